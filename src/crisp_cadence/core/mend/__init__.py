"""One change: every single swap or step from the design as it stands, each worked out whole; the cheapest
that mends it.
"""
