-- Several shows: what viewers did, hooks and chat servers belong to a show; shows can be laid away and brought back.
ALTER TABLE show ADD COLUMN opened_ms INTEGER;
-- Laid away: not in the list unless one looks for it.
ALTER TABLE show ADD COLUMN archived_ms INTEGER;
-- Deleted, and brought back by undo until it is swept.
ALTER TABLE show ADD COLUMN removed_ms INTEGER;

-- Until now there was one show; what belongs to none that is left belongs to nobody.
DROP TRIGGER audience_entry_in;
DROP TRIGGER audience_entry_out;
DROP TABLE audience_search;
ALTER TABLE audience_entry RENAME TO audience_entry_before;
DROP INDEX audience_entry_type;
DROP INDEX audience_entry_viewer;
DROP INDEX audience_entry_pinned;

CREATE TABLE audience_entry (
  seq INTEGER PRIMARY KEY AUTOINCREMENT,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
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
  UNIQUE (show_id, platform, event_id)
) STRICT;
INSERT INTO audience_entry (seq, show_id, platform, event_id, type, viewer, at_ms, words, data, done, pinned, hidden)
  SELECT seq, (SELECT id FROM show ORDER BY position, id LIMIT 1), platform, event_id, type, viewer, at_ms, words, data, done, pinned, hidden
  FROM audience_entry_before WHERE EXISTS (SELECT 1 FROM show);
DROP TABLE audience_entry_before;
CREATE INDEX audience_entry_type ON audience_entry (show_id, type, seq);
CREATE INDEX audience_entry_show ON audience_entry (show_id, seq);
CREATE INDEX audience_entry_viewer ON audience_entry (platform, viewer, seq);
CREATE INDEX audience_entry_pinned ON audience_entry (show_id, seq) WHERE pinned = 1;

CREATE VIRTUAL TABLE audience_search USING fts5 (
  viewer, words, content = 'audience_entry', content_rowid = 'seq', tokenize = 'unicode61 remove_diacritics 2', prefix = '2 3'
);
INSERT INTO audience_search (audience_search) VALUES ('rebuild');
CREATE TRIGGER audience_entry_in AFTER INSERT ON audience_entry BEGIN
  INSERT INTO audience_search (rowid, viewer, words) VALUES (new.seq, new.viewer, new.words);
END;
CREATE TRIGGER audience_entry_out AFTER DELETE ON audience_entry BEGIN
  INSERT INTO audience_search (audience_search, rowid, viewer, words) VALUES ('delete', old.seq, old.viewer, old.words);
END;

-- When a show's evening began, and how far its host has read.
ALTER TABLE audience_state RENAME TO audience_state_before;
CREATE TABLE audience_state (
  show_id TEXT PRIMARY KEY REFERENCES show (id) ON DELETE CASCADE,
  since_ms INTEGER NOT NULL,
  read_seq INTEGER NOT NULL DEFAULT 0
) STRICT;
INSERT INTO audience_state (show_id, since_ms, read_seq)
  SELECT (SELECT id FROM show ORDER BY position, id LIMIT 1), since_ms, read_seq
  FROM audience_state_before WHERE EXISTS (SELECT 1 FROM show);
DROP TABLE audience_state_before;

ALTER TABLE hook ADD COLUMN show_id TEXT REFERENCES show (id) ON DELETE CASCADE;
UPDATE hook SET show_id = (SELECT id FROM show ORDER BY position, id LIMIT 1);
ALTER TABLE chat_server ADD COLUMN show_id TEXT REFERENCES show (id) ON DELETE CASCADE;
UPDATE chat_server SET show_id = (SELECT id FROM show ORDER BY position, id LIMIT 1);
