-- The running order, titles, cues, keys, pads and controllers of a show.
CREATE TABLE rundown (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;
CREATE TABLE segment (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;
CREATE TABLE title (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;
CREATE TABLE cue (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;
CREATE TABLE shortcut (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;
CREATE TABLE pad_page (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;
CREATE TABLE control (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;
CREATE TABLE poll (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;

-- How the programme of a show stands: what was on air alone, until now.
CREATE TABLE programme (
  show_id TEXT PRIMARY KEY REFERENCES show (id) ON DELETE CASCADE,
  state TEXT NOT NULL CHECK (json_valid(state))
) STRICT;
INSERT INTO programme (show_id, state)
  SELECT show_id, json_object(
    'seq', 0,
    'onAir', json_object('sceneId', on_air_scene_id, 'poseId', on_air_pose_id, 'sinceMs', coalesce(on_air_since_ms, 0)),
    'levels', json('{}'), 'mutes', json('{}'),
    'onlyVoices', json('false'), 'covered', json('false'),
    'title', NULL, 'rundown', NULL, 'poll', NULL)
  FROM desk_state
  WHERE on_air_scene_id IS NOT NULL AND show_id IN (SELECT id FROM show);
DROP TABLE desk_state;

-- What was done to the programme in a broadcast, in order: any moment of it can be told again.
CREATE TABLE programme_entry (
  evening_id TEXT NOT NULL REFERENCES evening (id) ON DELETE CASCADE,
  seq INTEGER NOT NULL,
  at_ms INTEGER NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data)),
  PRIMARY KEY (evening_id, seq)
) STRICT;
