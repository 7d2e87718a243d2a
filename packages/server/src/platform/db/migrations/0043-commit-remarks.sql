-- What people remark on a commit, before or without a pull request.
CREATE TABLE commit_remark (
  remark_id TEXT PRIMARY KEY, repository TEXT NOT NULL, sha TEXT NOT NULL, person_id TEXT NOT NULL, at_ms INTEGER NOT NULL, text TEXT NOT NULL,
  path TEXT, side TEXT, line INTEGER, last_line INTEGER, reply_to TEXT, settled_by TEXT, settled_at_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX commit_remark_commit ON commit_remark (repository, sha, at_ms, remark_id);
