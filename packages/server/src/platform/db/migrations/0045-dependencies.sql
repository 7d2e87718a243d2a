-- What lock files name, by the name and content of the file; read from git when somebody asks, and can be thrown away.
CREATE TABLE lock_file (lock TEXT PRIMARY KEY, is_readable INTEGER NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE lock_package (
  lock TEXT NOT NULL, type TEXT NOT NULL, name TEXT NOT NULL COLLATE NOCASE, version TEXT NOT NULL,
  PRIMARY KEY (lock, name, version, type)
) STRICT, WITHOUT ROWID;
CREATE INDEX lock_package_name ON lock_package (name, version);
-- Which lock files a release has, and of which commit it was read.
CREATE TABLE release_lock (service TEXT NOT NULL, release TEXT NOT NULL, path TEXT NOT NULL, lock TEXT NOT NULL, PRIMARY KEY (service, release, path))
  STRICT, WITHOUT ROWID;
CREATE INDEX release_lock_lock ON release_lock (lock);
CREATE TABLE release_locks_read (service TEXT NOT NULL, release TEXT NOT NULL, sha TEXT NOT NULL, PRIMARY KEY (service, release)) STRICT, WITHOUT ROWID;
-- Bills of materials that were sent for releases.
CREATE TABLE release_bill (service TEXT NOT NULL, release TEXT NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (service, release))
  STRICT, WITHOUT ROWID;
CREATE TABLE release_bill_package (
  service TEXT NOT NULL, release TEXT NOT NULL, type TEXT NOT NULL, name TEXT NOT NULL COLLATE NOCASE, version TEXT NOT NULL,
  PRIMARY KEY (service, release, name, version, type)
) STRICT, WITHOUT ROWID;
CREATE INDEX release_bill_package_name ON release_bill_package (name, version);
