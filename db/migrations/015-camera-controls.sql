-- What is set by hand at a camera is kept with the input.
UPDATE input SET data = json_set(data, '$.source.controls', json('{}'))
  WHERE json_extract(data, '$.source.type') = 'camera';
