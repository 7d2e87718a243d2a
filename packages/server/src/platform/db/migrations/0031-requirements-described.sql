-- What requirements say beside their text, where they came from, and how they hang together.
ALTER TABLE requirement ADD COLUMN attributes TEXT NOT NULL DEFAULT '{}';
CREATE TABLE requirement_origin (
  key TEXT PRIMARY KEY, document TEXT NOT NULL, object TEXT NOT NULL, origin TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TABLE requirement_attributes (project TEXT PRIMARY KEY, attributes TEXT NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE requirement_document (
  project TEXT NOT NULL, document_id TEXT NOT NULL, kept TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (project, document_id)
) STRICT, WITHOUT ROWID;
CREATE TABLE requirement_relation (
  project TEXT NOT NULL, relation_id TEXT NOT NULL, name TEXT NOT NULL, from_key TEXT NOT NULL, to_key TEXT NOT NULL, words TEXT NOT NULL,
  at_ms INTEGER NOT NULL, by TEXT NOT NULL, PRIMARY KEY (project, relation_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX requirement_relation_from ON requirement_relation (from_key);
CREATE INDEX requirement_relation_to ON requirement_relation (to_key);
CREATE TABLE requirement_picture (
  project TEXT NOT NULL, path TEXT NOT NULL, media_type TEXT NOT NULL, content BLOB NOT NULL, at_ms INTEGER NOT NULL,
  PRIMARY KEY (project, path)
) STRICT, WITHOUT ROWID;
