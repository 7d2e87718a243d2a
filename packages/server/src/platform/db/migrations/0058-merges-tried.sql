-- Changes that were merged to see, as a branch of its own each, so that the result is built before the base takes it.
CREATE TABLE merge_trial (
  repository TEXT NOT NULL, number INTEGER NOT NULL, on_sha TEXT NOT NULL, head_sha TEXT NOT NULL, sha TEXT NOT NULL, branch TEXT NOT NULL,
  method TEXT NOT NULL, ahead TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (repository, number)
) STRICT, WITHOUT ROWID;
