-- What was done and what it was answered, by the key that whoever asked gave to it: asked again, it is answered as before.
CREATE TABLE act (
  key TEXT PRIMARY KEY,
  at TEXT NOT NULL,
  of TEXT NOT NULL,
  answer TEXT NOT NULL
) STRICT;

CREATE INDEX act_by_time ON act (at);

-- A machine's plan as it was left by each change, by the machine's version.
CREATE TABLE plan_revision (
  machine_id TEXT NOT NULL REFERENCES machine (id),
  number INTEGER NOT NULL,
  at TEXT NOT NULL,
  why TEXT NOT NULL DEFAULT '',
  plan TEXT NOT NULL,
  PRIMARY KEY (machine_id, number)
) STRICT;

INSERT INTO plan_revision (machine_id, number, at, why, plan)
  SELECT id, version, created_at, 'as it stood', plan FROM machine;
