"""Before anything is cut: what of the drawer serves the belts of an axis, and how everything comes into
line.
"""
