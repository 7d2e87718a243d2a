-- What steps of builds printed, as it came; kept for some time, and not told by the journal.
CREATE TABLE build_log (
  log_id INTEGER PRIMARY KEY, repository TEXT NOT NULL, build INTEGER NOT NULL, step TEXT NOT NULL, attempt INTEGER NOT NULL,
  bytes INTEGER NOT NULL, kept_bytes INTEGER NOT NULL, lines INTEGER NOT NULL, rest BLOB NOT NULL, is_cut INTEGER NOT NULL,
  run TEXT NOT NULL, errors INTEGER NOT NULL, warnings INTEGER NOT NULL, first_at_ms INTEGER NOT NULL, last_at_ms INTEGER NOT NULL,
  UNIQUE (repository, build, step, attempt)
) STRICT;
CREATE INDEX build_log_last ON build_log (last_at_ms);
-- Whole lines, deflated.
CREATE TABLE build_log_piece (
  log_id INTEGER NOT NULL, first_line INTEGER NOT NULL, line_count INTEGER NOT NULL, from_byte INTEGER NOT NULL, byte_count INTEGER NOT NULL,
  content BLOB NOT NULL, PRIMARY KEY (log_id, first_line)
) STRICT, WITHOUT ROWID;
CREATE TABLE build_log_mark (
  log_id INTEGER NOT NULL, line INTEGER NOT NULL, kind TEXT NOT NULL, text TEXT NOT NULL, path TEXT, path_line INTEGER,
  PRIMARY KEY (log_id, line)
) STRICT, WITHOUT ROWID;
