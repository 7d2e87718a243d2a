-- Searches for the commit that broke a test, by building those between; guilty is a JSON list of hashes.
CREATE TABLE bisection (
  bisection_id TEXT PRIMARY KEY, repository TEXT NOT NULL, suite TEXT NOT NULL, name TEXT NOT NULL, good TEXT NOT NULL, bad TEXT NOT NULL,
  build INTEGER NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL, outcome TEXT, guilty TEXT NOT NULL, ended_at_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX bisection_repository ON bisection (repository, at_ms);
CREATE INDEX bisection_open ON bisection (at_ms) WHERE ended_at_ms IS NULL;
