-- What stays longest on a computer that is overloaded: sharpness, as it was until now.
UPDATE plan SET data = json_set(data, '$.keep', 'sharpness') WHERE json_extract(data, '$.keep') IS NULL;
