"""Stages of the chain: every module here that defines a Stage with a `kind` joins the design file by
itself.
"""
