-- Machines and the drawer carry versions, as axes do: two windows cannot overwrite each other.
ALTER TABLE machine ADD COLUMN version INTEGER NOT NULL DEFAULT 1;

ALTER TABLE stock ADD COLUMN version INTEGER NOT NULL DEFAULT 1;

-- What the shelf shows of an axis, under all that it follows from; it is made anew whenever that changes.
CREATE TABLE shown (
  axis_id TEXT PRIMARY KEY REFERENCES axis (id),
  made_from TEXT NOT NULL,
  line TEXT NOT NULL
) STRICT;
