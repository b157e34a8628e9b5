-- Services are described by files: which one a destination belongs to, who may see its broadcasts, and the files themselves.
UPDATE destination SET data = json_set(
  json_remove(data, '$.standIn'),
  '$.connector', json_extract(data, '$.standIn'),
  '$.details.visibility', ''
) WHERE json_type(data, '$.connector') IS NULL;

CREATE TABLE connector (
  id TEXT PRIMARY KEY,
  data TEXT NOT NULL,
  added_ms INTEGER NOT NULL
) STRICT;
