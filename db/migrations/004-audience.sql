-- Audience: what a show lets through, alert rules in full, goals; and what viewers did, kept and searchable.
UPDATE show SET data = json_set(data, '$.audience', json_object(
  'currency', 'EUR', 'rates', json('{}'), 'names', 'full', 'maskLists', json('false'), 'hideCommands', json('true'),
  'hiddenViewers', json('[]'), 'blockedWords', json('[]'), 'maskLinks', json('true'), 'holdSeconds', 0,
  'quietSceneIds', json('[]')));

UPDATE alert_rule SET data = json_patch(
  '{"on":true,"from":0,"way":"any","title":"","layout":"above","soundGainDb":-6,"spoken":false,"motionIn":"drop",'
  || '"motionOut":"fade","motionSeconds":0.4,"priority":"normal","mergeSeconds":20,"coolDownSeconds":0,"perViewerSeconds":0}',
  data);
-- A patch cannot put in null.
UPDATE alert_rule SET data = json_set(data, '$.picture', NULL, '$.sound', NULL, '$.style', NULL);

UPDATE layer SET data = json_set(data, '$.content.accent', '#63BDBB', '$.content.panel',
  json('{"theme":"plain","direction":"up","badges":true,"emotes":true,"platforms":false}'))
WHERE json_extract(data, '$.content.type') = 'chatPanel';

CREATE TABLE goal (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;

-- Every message and event, numbered as it came in. `words` is what search looks in.
CREATE TABLE audience_entry (
  seq INTEGER PRIMARY KEY AUTOINCREMENT,
  platform TEXT NOT NULL,
  event_id TEXT NOT NULL,
  type TEXT NOT NULL,
  viewer TEXT NOT NULL,
  at_ms INTEGER NOT NULL,
  words TEXT NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data)),
  done INTEGER NOT NULL DEFAULT 0,
  pinned INTEGER NOT NULL DEFAULT 0,
  hidden INTEGER NOT NULL DEFAULT 0,
  UNIQUE (platform, event_id)
) STRICT;
CREATE INDEX audience_entry_type ON audience_entry (type, seq);
CREATE INDEX audience_entry_viewer ON audience_entry (platform, viewer, seq);
CREATE INDEX audience_entry_pinned ON audience_entry (seq) WHERE pinned = 1;

CREATE VIRTUAL TABLE audience_search USING fts5 (
  viewer, words, content = 'audience_entry', content_rowid = 'seq', tokenize = 'unicode61 remove_diacritics 2', prefix = '2 3'
);
CREATE TRIGGER audience_entry_in AFTER INSERT ON audience_entry BEGIN
  INSERT INTO audience_search (rowid, viewer, words) VALUES (new.seq, new.viewer, new.words);
END;
CREATE TRIGGER audience_entry_out AFTER DELETE ON audience_entry BEGIN
  INSERT INTO audience_search (audience_search, rowid, viewer, words) VALUES ('delete', old.seq, old.viewer, old.words);
END;

-- When the scene on air came on, so that countdowns go on after a reload.
ALTER TABLE desk_state ADD COLUMN on_air_since_ms INTEGER;

CREATE TABLE viewer_note (
  platform TEXT NOT NULL,
  viewer TEXT NOT NULL,
  note TEXT NOT NULL,
  PRIMARY KEY (platform, viewer)
) STRICT;

-- One row: when this evening began, and how far the host has read.
CREATE TABLE audience_state (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  since_ms INTEGER NOT NULL,
  read_seq INTEGER NOT NULL DEFAULT 0
) STRICT;

-- Addresses that others may send events to; the signing secret is in `secret` under `hook:<id>`.
CREATE TABLE hook (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  created_ms INTEGER NOT NULL
) STRICT;

-- Chat servers; a password is in `secret` under `chat:<id>`.
CREATE TABLE chat_server (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  host TEXT NOT NULL,
  port INTEGER NOT NULL,
  tls INTEGER NOT NULL,
  nick TEXT NOT NULL,
  channels TEXT NOT NULL CHECK (json_valid(channels))
) STRICT;
