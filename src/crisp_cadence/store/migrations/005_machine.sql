-- What a machine is beside its axes: own steps, what was bought and when it comes; as JSON, empty for none.
ALTER TABLE machine ADD COLUMN plan TEXT NOT NULL DEFAULT '';
