"""What makes a number open to its source: formula, quantity, record, units, errors."""
