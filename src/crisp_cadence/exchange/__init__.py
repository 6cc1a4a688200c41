"""Open formats: what goes out to a cutter, a printer or a sheet."""
