"""Rules and computation: no files, no clock, no network, no database, no web."""
