-- Since when no show names a file, and when it was removed: it is back for thirty days.
ALTER TABLE asset ADD COLUMN unused_ms INTEGER;
ALTER TABLE asset ADD COLUMN removed_ms INTEGER;
