-- Sound: everything a channel can be set to, effects, and voice chains under a name.
UPDATE show SET data = json_set(data, '$.sound', json_object(
  'targetLufs', -16, 'ceilingDbtp', -1,
  'trackNames', json_array('Programme', 'Voices', 'Game', 'Music', 'Call', 'Effects')));

UPDATE channel SET data = json_set(data,
  '$.colour', 'slate', '$.trimDb', 0, '$.pan', 0, '$.mono', json('false'), '$.inverted', json('false'),
  '$.offsetMs', 0, '$.monitor', 'off', '$.tracks', json('[1]'),
  '$.role', CASE WHEN json_extract(data, '$.source.type') = 'microphone' THEN 'voice' ELSE 'background' END,
  '$.sceneIds', json('[]'), '$.fadeSeconds', 0.5,
  '$.chain', json('{"bypassed":false,"processors":[]}'), '$.ducking', NULL);
UPDATE channel SET data = json_set(data, '$.source.processed', json('false'))
WHERE json_extract(data, '$.source.type') = 'microphone';
UPDATE channel SET data = json_set(data, '$.role', 'voice') WHERE json_extract(data, '$.source.sound') = 'voice';

CREATE TABLE effect (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;

CREATE TABLE chain_preset (
  id TEXT PRIMARY KEY,
  show_id TEXT NOT NULL REFERENCES show (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  position REAL NOT NULL,
  data TEXT NOT NULL CHECK (json_valid(data))
) STRICT;
