"""What is asked of belts, tensioners, brackets and rails wherever they stand."""
