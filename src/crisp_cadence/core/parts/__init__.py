"""What a design is made of: stages and ends, one module a kind, and their contracts."""
