-- What a code host was last told of each of its pull requests; without it everything is told once more.
CREATE TABLE told_status (
  repository TEXT NOT NULL, number INTEGER NOT NULL, told TEXT NOT NULL, at_ms INTEGER NOT NULL, trouble TEXT,
  PRIMARY KEY (repository, number)
) STRICT, WITHOUT ROWID;
