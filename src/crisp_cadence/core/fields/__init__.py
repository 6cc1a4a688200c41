"""What stands in a design file: its pieces, each field with unit, limits and words."""
