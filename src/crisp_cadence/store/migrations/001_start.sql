CREATE TABLE machine (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  note TEXT NOT NULL DEFAULT '',
  created_at TEXT NOT NULL,
  removed_at TEXT
) STRICT;

CREATE TABLE axis (
  id TEXT PRIMARY KEY,
  machine_id TEXT NOT NULL REFERENCES machine (id),
  version INTEGER NOT NULL,
  created_at TEXT NOT NULL,
  removed_at TEXT
) STRICT;

CREATE INDEX axis_by_machine ON axis (machine_id);

CREATE TABLE revision (
  axis_id TEXT NOT NULL REFERENCES axis (id),
  number INTEGER NOT NULL,
  at TEXT NOT NULL,
  why TEXT NOT NULL DEFAULT '',
  design TEXT NOT NULL,
  PRIMARY KEY (axis_id, number)
) STRICT;

CREATE TABLE log_entry (
  id TEXT PRIMARY KEY,
  axis_id TEXT NOT NULL,
  revision INTEGER NOT NULL,
  on_date TEXT NOT NULL,
  kind TEXT NOT NULL,
  says TEXT NOT NULL,
  cost REAL,
  reading TEXT,
  created_at TEXT NOT NULL,
  FOREIGN KEY (axis_id, revision) REFERENCES revision (axis_id, number)
) STRICT;

CREATE INDEX log_by_axis ON log_entry (axis_id, on_date);

-- What lies in the maker's drawer: quantity and price beside a row of the starter catalogue, or a whole row of their own.
CREATE TABLE stock (
  key TEXT PRIMARY KEY,
  quantity INTEGER NOT NULL DEFAULT 0,
  price REAL,
  kind TEXT,
  name TEXT,
  data TEXT,
  source_kind TEXT,
  source TEXT
) STRICT;
