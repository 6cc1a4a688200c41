"""A machine: its axes together, one order of work, one order list, one bill."""
