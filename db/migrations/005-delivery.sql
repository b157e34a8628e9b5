-- Delivery: what destinations take, plans with their line, what is recorded and looked back on; evenings and their reports.
UPDATE show SET data = json_set(data, '$.delivery', json(
  '{"planId":null,"record":{"frames":["wide","tall"],"splitMinutes":0,"pattern":"{date} {time} {show} {frame}","rewrap":false},'
  || '"lookback":{"on":true,"seconds":120},"announce":{"on":false,"text":"{show} is live: {title}"},"plannedMinutes":180}'));

UPDATE destination SET data = json_set(data,
  '$.capKbps', NULL, '$.ownKbps', NULL, '$.delaySeconds', 0, '$.keyUse', 'lasting', '$.padded', json('false'),
  '$.servers', json('[]'), '$.details',
  json('{"title":"","category":"","tags":[],"description":"","latency":"normal","thumbnailId":null}'));

UPDATE plan SET data = json_set(data,
  '$.lineKbps', NULL, '$.headroom', 0.3, '$.content', 'talk', '$.effort', 'quick', '$.adaptive', json('true'));

-- One broadcast, or one recording made alone.
CREATE TABLE evening (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL,
  started_ms INTEGER NOT NULL,
  ended_ms INTEGER,
  title TEXT NOT NULL
) STRICT;

-- What happened in it, in order.
CREATE TABLE evening_moment (
  seq INTEGER PRIMARY KEY AUTOINCREMENT,
  evening_id TEXT NOT NULL REFERENCES evening (id) ON DELETE CASCADE,
  at_ms INTEGER NOT NULL,
  kind TEXT NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;
CREATE INDEX evening_moment_of ON evening_moment (evening_id, at_ms);

-- Line tests, newest last.
CREATE TABLE line_test (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL,
  destination_id TEXT NOT NULL,
  server TEXT NOT NULL,
  at_ms INTEGER NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;

-- What a file is: a recording, a clip kept from lookback, a copy; and what it was made from.
ALTER TABLE recording ADD COLUMN kind TEXT NOT NULL DEFAULT 'recording';
ALTER TABLE recording ADD COLUMN title TEXT NOT NULL DEFAULT '';
ALTER TABLE recording ADD COLUMN made_from TEXT;
ALTER TABLE recording ADD COLUMN evening_id TEXT;
