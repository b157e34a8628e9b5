-- The show as it was when a broadcast began, and what was edited in it since: with the programme's entries any moment of it
-- can be drawn again, also after the show has become another one.
CREATE TABLE evening_show (
  evening_id TEXT PRIMARY KEY REFERENCES evening (id) ON DELETE CASCADE,
  programme TEXT NOT NULL CHECK (json_valid(programme)),
  records TEXT NOT NULL CHECK (json_valid(records))
) STRICT;

CREATE TABLE evening_edit (
  evening_id TEXT NOT NULL REFERENCES evening (id) ON DELETE CASCADE,
  revision INTEGER NOT NULL,
  at_ms INTEGER NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data)),
  PRIMARY KEY (evening_id, revision)
) STRICT;
