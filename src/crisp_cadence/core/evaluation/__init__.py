"""The one evaluation: a design in, a report out."""
