-- Releases that nobody should bring anywhere any more, and why.
CREATE TABLE withdrawn_release (
  service TEXT NOT NULL, release TEXT NOT NULL, why TEXT NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (service, release)
) STRICT, WITHOUT ROWID;
