-- Axes ride on axes of the same machine: what one carries is the load of the one beneath.
ALTER TABLE axis ADD COLUMN rides_on TEXT REFERENCES axis (id);

CREATE INDEX axis_by_mount ON axis (rides_on);
