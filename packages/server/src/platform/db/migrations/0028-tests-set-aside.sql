-- Tests that somebody set aside until a day: they run and are told, and hold no merge up.
CREATE TABLE test_aside (
  repository TEXT NOT NULL, suite TEXT NOT NULL, name TEXT NOT NULL, until_day TEXT NOT NULL, why TEXT NOT NULL, by TEXT NOT NULL,
  at_ms INTEGER NOT NULL, PRIMARY KEY (repository, suite, name)
) STRICT, WITHOUT ROWID;
