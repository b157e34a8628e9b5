-- The seat that a guest's link is for; a browser that came by it keeps it.
ALTER TABLE access ADD COLUMN seat_id TEXT;
