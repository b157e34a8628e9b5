-- Which encoder a plan was made for: as the browser thinks best, as it was until now.
UPDATE plan SET data = json_set(data, '$.encoder', 'any') WHERE json_extract(data, '$.encoder') IS NULL;
