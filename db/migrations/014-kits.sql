-- Kits that were brought into a show are remembered with it, so that they can be taken out again.
UPDATE show SET data = json_set(data, '$.kits', json('[]'));
