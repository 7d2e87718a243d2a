-- Who sees to a failing test of a branch.
CREATE TABLE failure_taken (
  repository TEXT NOT NULL, branch TEXT NOT NULL, suite TEXT NOT NULL, name TEXT NOT NULL, person_id TEXT NOT NULL, note TEXT NOT NULL, at_ms INTEGER NOT NULL,
  PRIMARY KEY (repository, branch, suite, name)
) STRICT, WITHOUT ROWID;
