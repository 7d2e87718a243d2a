-- Who is asked to look at a change.
CREATE TABLE review_ask (
  repository TEXT NOT NULL, number INTEGER NOT NULL, person_id TEXT NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (repository, number, person_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX review_ask_person ON review_ask (person_id, at_ms);
-- What people said of a change, each time; `patches` are the identities of what they saw.
CREATE TABLE verdict (
  review_id TEXT PRIMARY KEY, repository TEXT NOT NULL, number INTEGER NOT NULL, person_id TEXT NOT NULL, verdict TEXT NOT NULL, words TEXT NOT NULL, head_sha TEXT NOT NULL,
  patches TEXT NOT NULL, at_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX verdict_pull_request ON verdict (repository, number, at_ms);
CREATE INDEX verdict_person ON verdict (person_id, repository, number, at_ms);
CREATE TABLE remark (
  remark_id TEXT PRIMARY KEY, repository TEXT NOT NULL, number INTEGER NOT NULL, reply_to TEXT, person_id TEXT NOT NULL, path TEXT, line INTEGER, last_line INTEGER, side TEXT, sha TEXT,
  text TEXT NOT NULL, at_ms INTEGER NOT NULL, settled_by TEXT, settled_at_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX remark_pull_request ON remark (repository, number, at_ms);
-- Whoever wants a change merged once its gates hold.
CREATE TABLE merge_wish (
  repository TEXT NOT NULL, number INTEGER NOT NULL, by TEXT NOT NULL, method TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (repository, number)
) STRICT, WITHOUT ROWID;
CREATE TABLE merge_gates (
  repository TEXT PRIMARY KEY, agreements INTEGER NOT NULL, needs_settled INTEGER NOT NULL, needs_item INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
