"""The one definition of a design: file, layouts, kinds, axes that ride on axes."""
