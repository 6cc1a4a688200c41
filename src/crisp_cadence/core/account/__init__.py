"""What an evaluation writes down: results, ladder, report."""
