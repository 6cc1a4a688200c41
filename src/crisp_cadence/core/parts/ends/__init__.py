"""Ends of the chain: every module here that defines an End with a `kind` joins the design file by itself."""
