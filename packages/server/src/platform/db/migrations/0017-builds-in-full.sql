-- A build's state is derived from what was told: that it began, that it ended, how, and its reports, in any order.
ALTER TABLE build ADD COLUMN is_ended INTEGER NOT NULL DEFAULT 0;
ALTER TABLE build ADD COLUMN told_outcome TEXT;
ALTER TABLE build ADD COLUMN outcome_at_ms INTEGER;
UPDATE build SET is_ended = 1, told_outcome = state, outcome_at_ms = finished_at_ms WHERE is_told = 1 AND state <> 'running';
-- What a build service calls a build by a name of its own; the number is ours.
CREATE TABLE build_name (
  repository TEXT NOT NULL, name TEXT NOT NULL, number INTEGER NOT NULL, is_shown INTEGER NOT NULL, PRIMARY KEY (repository, name)
) STRICT, WITHOUT ROWID;
CREATE INDEX build_name_number ON build_name (repository, number, is_shown);
-- The parts that a build service runs one after the other.
CREATE TABLE build_step (
  repository TEXT NOT NULL, build INTEGER NOT NULL, step TEXT NOT NULL, name TEXT NOT NULL, started_at_ms INTEGER, finished_at_ms INTEGER, outcome TEXT,
  PRIMARY KEY (repository, build, step)
) STRICT, WITHOUT ROWID;
-- Which lines of a file the tests of a build ran, as ranges such as `1-5 8`.
CREATE TABLE coverage (
  repository TEXT NOT NULL, build INTEGER NOT NULL, path TEXT NOT NULL, covered TEXT NOT NULL, missed TEXT NOT NULL, covered_count INTEGER NOT NULL, missed_count INTEGER NOT NULL,
  PRIMARY KEY (repository, build, path)
) STRICT, WITHOUT ROWID;
-- What analysers found, once for each finding; and which of them each analysed commit still has.
CREATE TABLE finding (
  repository TEXT NOT NULL, tool TEXT NOT NULL, identity TEXT NOT NULL, rule_id TEXT NOT NULL, level TEXT NOT NULL, message TEXT NOT NULL,
  file TEXT, line INTEGER, first_sha TEXT NOT NULL, first_at_ms INTEGER NOT NULL, PRIMARY KEY (repository, tool, identity)
) STRICT, WITHOUT ROWID;
CREATE TABLE finding_seen (
  repository TEXT NOT NULL, sha TEXT NOT NULL, tool TEXT NOT NULL, identity TEXT NOT NULL, line INTEGER, PRIMARY KEY (repository, sha, tool, identity)
) STRICT, WITHOUT ROWID;
-- Things that were built, by their package URL.
CREATE TABLE artefact (
  purl TEXT PRIMARY KEY, name TEXT NOT NULL, version TEXT, repository TEXT NOT NULL, state TEXT NOT NULL, sbom TEXT, at_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX artefact_version ON artefact (repository, version);
-- Events about what is not set up here yet; each is taken once it is, or goes after a while.
CREATE TABLE unplaced_event (
  unplaced_id INTEGER PRIMARY KEY, at_ms INTEGER NOT NULL, sender TEXT NOT NULL, project TEXT, data TEXT NOT NULL
) STRICT;
