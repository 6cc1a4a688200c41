-- Rows of the drawer can be taken out and brought back.
ALTER TABLE stock ADD COLUMN removed_at TEXT;

-- A file taken into the drawer is one step, to be taken back or made again as one.
CREATE TABLE intake (
  id INTEGER PRIMARY KEY,
  at TEXT NOT NULL,
  new INTEGER NOT NULL,
  changed INTEGER NOT NULL,
  undone INTEGER NOT NULL DEFAULT 0
) STRICT;

-- Each row that it touched: the version in which the step has left it (0: no row), and the row on the other side of the step (NULL: none).
CREATE TABLE intake_row (
  intake INTEGER NOT NULL REFERENCES intake (id),
  key TEXT NOT NULL,
  version INTEGER NOT NULL,
  other TEXT,
  PRIMARY KEY (intake, key)
) STRICT;
