-- Who may do what: browsers that signed in, and links that let others in. Only hashes of what they carry are kept.
CREATE TABLE access (
  id TEXT PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('browser', 'link')),
  role TEXT NOT NULL CHECK (role IN ('owner', 'operator', 'guest', 'watcher')),
  name TEXT NOT NULL,
  token_hash TEXT NOT NULL UNIQUE,
  created_ms INTEGER NOT NULL,
  seen_ms INTEGER,
  expires_ms INTEGER,
  -- How often a link may still be used; null for as often as one likes.
  uses_left INTEGER,
  -- The link a browser came in by.
  link_id TEXT REFERENCES access (id) ON DELETE SET NULL,
  revoked_ms INTEGER
);

CREATE TABLE audit (
  seq INTEGER PRIMARY KEY,
  at_ms INTEGER NOT NULL,
  -- The name of who did it, as it was then.
  who TEXT NOT NULL,
  what TEXT NOT NULL,
  about TEXT NOT NULL
);
CREATE INDEX audit_at ON audit (at_ms);
