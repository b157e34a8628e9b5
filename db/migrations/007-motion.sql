-- Motion: poses, glides, more transitions, a way of its own for each pair of scenes, and how layers come and go.
CREATE TABLE pose (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  scene_id TEXT NOT NULL REFERENCES scene (id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;
CREATE INDEX pose_scene ON pose (scene_id, position);

UPDATE show SET data = json_set(data, '$.transition',
  json('{"type":"fade","seconds":0.5,"easing":"ease-in-out","side":"left","colour":"#14181D","stinger":null}'));
UPDATE scene SET data = json_set(data,
  '$.transition.easing', 'ease-in-out', '$.transition.side', 'left', '$.transition.colour', '#14181D', '$.transition.stinger', NULL,
  '$.transitionAfter', json('{}'),
  '$.glide', json('{"seconds":0.5,"easing":"ease-in-out","staggerSeconds":0}'));
UPDATE layer SET data = json_set(data, '$.motion',
  json('{"enter":"fade","leave":"fade","side":"bottom","timing":null}'));

-- The pose of the scene on air, so that a reload goes on in it.
ALTER TABLE desk_state ADD COLUMN on_air_pose_id TEXT;
