-- Cameras whose pictures are of two fields each; none was.
UPDATE input SET data = json_set(data, '$.source.deinterlace', json('false'))
WHERE json_extract(data, '$.source.type') = 'camera' AND json_type(data, '$.source.deinterlace') IS NULL;
