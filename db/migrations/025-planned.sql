-- When a show is planned to be broadcast next: for Home, and so that nothing is changed under it shortly before.
ALTER TABLE show ADD COLUMN next_ms INTEGER;
