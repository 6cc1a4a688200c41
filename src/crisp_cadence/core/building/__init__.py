"""What to buy, in what order to work, and what was made already."""
