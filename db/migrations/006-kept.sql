-- Who encodes for a destination; settings of this machine, which no show carries along; recordings in folders of one's own.
UPDATE destination SET data = json_set(data, '$.encodedBy', 'desk');

CREATE TABLE setting (
  name TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT;

-- A folder of its own for each file: the same name may stand in two. Empty for the studio's own folder.
CREATE TABLE recording_in_folder (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL,
  folder TEXT NOT NULL DEFAULT '',
  file TEXT NOT NULL,
  started_ms INTEGER NOT NULL,
  seconds REAL NOT NULL,
  bytes INTEGER NOT NULL,
  note TEXT NOT NULL DEFAULT '',
  kind TEXT NOT NULL DEFAULT 'recording',
  title TEXT NOT NULL DEFAULT '',
  made_from TEXT,
  evening_id TEXT,
  UNIQUE (folder, file)
) STRICT;
INSERT INTO recording_in_folder (id, show_id, file, started_ms, seconds, bytes, note, kind, title, made_from, evening_id)
SELECT id, show_id, file, started_ms, seconds, bytes, note, kind, title, made_from, evening_id FROM recording;
DROP TABLE recording;
ALTER TABLE recording_in_folder RENAME TO recording;
