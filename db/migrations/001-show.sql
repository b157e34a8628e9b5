-- One table per kind of record: columns for what is asked about, JSON for the rest.
CREATE TABLE show (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  revision INTEGER NOT NULL DEFAULT 0,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;

CREATE TABLE input (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;

CREATE TABLE scene (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;

CREATE TABLE layer (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  scene_id TEXT REFERENCES scene (id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;
CREATE INDEX layer_scene ON layer (scene_id, position);

CREATE TABLE channel (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;

CREATE TABLE destination (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;

CREATE TABLE plan (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;

CREATE TABLE alert_rule (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;

-- Edits that were applied, so that one sent twice counts once.
CREATE TABLE applied_edit (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  revision INTEGER NOT NULL
) STRICT;

CREATE TABLE asset (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  mime TEXT NOT NULL,
  bytes INTEGER NOT NULL,
  added_ms INTEGER NOT NULL
) STRICT;

-- Encrypted; `subject` is the record the secret belongs to.
CREATE TABLE secret (
  subject TEXT PRIMARY KEY,
  sealed BLOB NOT NULL,
  changed_ms INTEGER NOT NULL
) STRICT;

-- What is on air now, apart from the show, so that a reload goes on.
CREATE TABLE desk_state (
  show_id TEXT PRIMARY KEY REFERENCES show (id) ON DELETE CASCADE,
  on_air_scene_id TEXT
) STRICT;

CREATE TABLE recording (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL,
  file TEXT NOT NULL UNIQUE,
  started_ms INTEGER NOT NULL,
  seconds REAL NOT NULL,
  bytes INTEGER NOT NULL,
  note TEXT NOT NULL DEFAULT ''
) STRICT;

-- Records of the demonstration that were made once and are not made again.
CREATE TABLE seeded (
  id TEXT PRIMARY KEY
) STRICT;
