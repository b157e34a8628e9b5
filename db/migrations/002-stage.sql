-- Stage: groups, insets, standing changes, inputs adjusted once, and a plan for each frame.
ALTER TABLE layer ADD COLUMN group_id TEXT;

UPDATE layer SET data = json_set(data, '$.content', json_object('type', 'shape', 'shape', 'rectangle', 'colour', json_extract(data, '$.content.colour')))
WHERE json_extract(data, '$.content.type') = 'fill';

UPDATE layer SET data = json_set(data,
  '$.content.style.outlinePx', 0, '$.content.style.outlineColour', '#14181D', '$.content.style.shadowPx', 0,
  '$.content.style.wrap', json('true'), '$.content.style.tickerPxPerSecond', 0)
WHERE json_type(data, '$.content.style') = 'object';

UPDATE layer SET data = json_set(data, '$.placements.wide.flipX', json('false'), '$.placements.wide.flipY', json('false'))
WHERE json_type(data, '$.placements.wide') = 'object';
UPDATE layer SET data = json_set(data, '$.placements.tall.flipX', json('false'), '$.placements.tall.flipY', json('false'))
WHERE json_type(data, '$.placements.tall') = 'object';

UPDATE scene SET data = json_set(data, '$.mark', 'none', '$.standing', json('{}'));

UPDATE input SET data = json_set(data,
  '$.crop', json('{"left":0,"top":0,"right":0,"bottom":0}'), '$.turnDeg', 0,
  '$.mirrored', json(CASE WHEN json_extract(data, '$.source.mirrored') = 1 THEN 'true' ELSE 'false' END),
  '$.keepReady', json('true'), '$.standInId', NULL);
UPDATE input SET data = json_remove(data, '$.source.mirrored') WHERE json_extract(data, '$.source.type') = 'camera';
UPDATE input SET data = json_set(data, '$.source.surface', 'screen') WHERE json_extract(data, '$.source.type') = 'screen';
UPDATE input SET data = json_set(data, '$.source.loop', json('true')) WHERE json_extract(data, '$.source.type') = 'picture';
UPDATE input SET data = json_set(data, '$.source', json_object(
    'type', 'clips',
    'files', json_array(json_object('assetId', json_extract(data, '$.source.assetId'), 'name', name)),
    'order', 'listed',
    'atEnd', CASE WHEN json_extract(data, '$.source.loop') = 1 THEN 'loop' ELSE 'stop' END,
    'start', 'always'))
WHERE json_extract(data, '$.source.type') = 'video';

UPDATE destination SET data = json_set(data, '$.frame', 'wide');
UPDATE plan SET data = json_remove(json_set(data, '$.frames', json_object('wide', json_object(
    'width', json_extract(data, '$.width'), 'height', json_extract(data, '$.height'),
    'videoKbps', json_extract(data, '$.videoKbps')))), '$.width', '$.height', '$.videoKbps');
