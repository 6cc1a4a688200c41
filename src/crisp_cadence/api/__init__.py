"""HTTP over core and store."""
