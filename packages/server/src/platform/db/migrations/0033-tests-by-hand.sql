-- Tests that people do: cases with their revisions, plans, and every result that was given.
CREATE TABLE test_case (
  project TEXT NOT NULL, number INTEGER NOT NULL, revision INTEGER NOT NULL, title TEXT NOT NULL, text TEXT NOT NULL, steps TEXT NOT NULL,
  verifies TEXT NOT NULL, is_retired INTEGER NOT NULL DEFAULT 0, PRIMARY KEY (project, number)
) STRICT, WITHOUT ROWID;
CREATE TABLE test_case_revision (
  project TEXT NOT NULL, number INTEGER NOT NULL, revision INTEGER NOT NULL, title TEXT NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL,
  PRIMARY KEY (project, number, revision)
) STRICT, WITHOUT ROWID;
CREATE TABLE test_plan (
  project TEXT NOT NULL, plan_id TEXT NOT NULL, name TEXT NOT NULL, release TEXT, environments TEXT NOT NULL, cases TEXT NOT NULL,
  at_ms INTEGER NOT NULL, signed_by TEXT, signed_at_ms INTEGER, signed_words TEXT, PRIMARY KEY (project, plan_id)
) STRICT, WITHOUT ROWID;
CREATE TABLE test_done (
  result_id TEXT PRIMARY KEY, project TEXT NOT NULL, plan_id TEXT NOT NULL, number INTEGER NOT NULL, revision INTEGER NOT NULL,
  environment TEXT NOT NULL, outcome TEXT NOT NULL, step INTEGER, words TEXT NOT NULL, item TEXT, by TEXT NOT NULL, at_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX test_done_case ON test_done (project, number, at_ms);
CREATE INDEX test_done_plan ON test_done (project, plan_id, at_ms);
