-- Grades smooth skin.
UPDATE grade SET data = json_set(data, '$.smoothing', 0);
