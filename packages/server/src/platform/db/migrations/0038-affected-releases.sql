-- What people said of a defect in a release, where that runs.
CREATE TABLE item_affected (
  item_key TEXT NOT NULL, service TEXT NOT NULL, release TEXT NOT NULL, environment TEXT NOT NULL, verdict TEXT NOT NULL,
  by TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (item_key, service, release, environment)
) STRICT, WITHOUT ROWID;
