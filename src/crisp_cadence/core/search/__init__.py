"""Every buildable drive of the drawer for one aim, checked against the whole ladder as arrays."""
