-- What proves to a repository's host that we may read it; sealed with a key that lies outside the database.
CREATE TABLE repository_access (
  repository TEXT PRIMARY KEY, kind TEXT NOT NULL, user_name TEXT, public_key TEXT, sealed TEXT NOT NULL
) STRICT, WITHOUT ROWID;
-- Pairs of keys that were made for a repository which is to be connected.
CREATE TABLE repository_key (
  key_id TEXT PRIMARY KEY, made_by TEXT NOT NULL, made_at_ms INTEGER NOT NULL, public_key TEXT NOT NULL, sealed TEXT NOT NULL
) STRICT, WITHOUT ROWID;
