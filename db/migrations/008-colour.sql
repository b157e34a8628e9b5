-- Colour: grades with names, shared among inputs and layers, and a colour keyed out of an input.
CREATE TABLE grade (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;

UPDATE input SET data = json_set(data, '$.gradeId', NULL, '$.key', NULL);
UPDATE layer SET data = json_set(data, '$.gradeId', NULL);
