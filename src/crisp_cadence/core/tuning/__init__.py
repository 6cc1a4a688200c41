"""From a reading to a setting."""
