-- Recordings may begin a new file when one has a size.
UPDATE show SET data = json_set(data, '$.delivery.record.splitMb', 0);
