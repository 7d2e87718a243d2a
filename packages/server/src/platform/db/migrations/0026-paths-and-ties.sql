-- Which commits touched a path, newest first: made from the index of git, for files' pages and for filters by path.
CREATE TABLE commit_path (
  repository TEXT NOT NULL, path TEXT NOT NULL, committed_at_ms INTEGER NOT NULL, sha TEXT NOT NULL,
  PRIMARY KEY (repository, path, committed_at_ms, sha)
) STRICT, WITHOUT ROWID;
INSERT OR IGNORE INTO commit_path (repository, path, committed_at_ms, sha)
  SELECT c.repository, json_extract(f.value, '$.path'), c.committed_at_ms, c.sha FROM git_commit c, json_each(c.files) f
  WHERE f.key < 2000;

-- Commits of which people said that they need no item.
CREATE TABLE commit_excuse (
  repository TEXT NOT NULL, sha TEXT NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (repository, sha)
) STRICT, WITHOUT ROWID;

-- What people made of proposed ties, with what was known when they decided.
CREATE TABLE tie_decision (
  repository TEXT NOT NULL, sha TEXT NOT NULL, item_key TEXT NOT NULL, is_right INTEGER NOT NULL, facts TEXT, at_ms INTEGER NOT NULL,
  PRIMARY KEY (repository, sha, item_key)
) STRICT, WITHOUT ROWID;
CREATE INDEX tie_decision_time ON tie_decision (at_ms);
