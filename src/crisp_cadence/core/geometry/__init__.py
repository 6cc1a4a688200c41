"""Belt paths, what lies on them, and drawings."""
