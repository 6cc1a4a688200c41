"""What to build: search, one change, other ways; each answer a whole evaluation."""
