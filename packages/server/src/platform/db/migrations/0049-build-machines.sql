-- Builds that people and pushes want of the build machines.
CREATE TABLE wanted_build (
  wanted_id TEXT PRIMARY KEY, repository TEXT NOT NULL, branch TEXT NOT NULL, sha TEXT NOT NULL, again INTEGER, is_by_push INTEGER NOT NULL,
  by TEXT NOT NULL, wanted_at_ms INTEGER NOT NULL, machine TEXT, number INTEGER, taken_at_ms INTEGER, is_stop_wanted INTEGER NOT NULL DEFAULT 0,
  outcome TEXT, ended_at_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX wanted_build_open ON wanted_build (wanted_at_ms) WHERE ended_at_ms IS NULL;
CREATE INDEX wanted_build_repository ON wanted_build (repository, wanted_at_ms);
-- A step that is a part of another: a shard, or what a step runs by itself.
ALTER TABLE build_step ADD COLUMN parent TEXT;
-- Files that builds leave: kept by content among the blobs, or lying elsewhere.
CREATE TABLE build_file (
  file_id TEXT PRIMARY KEY, repository TEXT NOT NULL, build INTEGER NOT NULL, name TEXT NOT NULL, size_bytes INTEGER, sha256 TEXT, url TEXT,
  at_ms INTEGER NOT NULL, UNIQUE (repository, build, name)
) STRICT, WITHOUT ROWID;
CREATE INDEX build_file_at ON build_file (at_ms);
