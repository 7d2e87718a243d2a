-- Sets of requirements that people are asked to agree to; keys and people are JSON lists.
CREATE TABLE agreement (
  project TEXT NOT NULL, agreement_id TEXT NOT NULL, name TEXT NOT NULL, words TEXT NOT NULL, keys TEXT NOT NULL, people TEXT NOT NULL,
  due_on TEXT, by TEXT NOT NULL, at_ms INTEGER NOT NULL, ended_words TEXT, ended_by TEXT, ended_at_ms INTEGER, PRIMARY KEY (project, agreement_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX agreement_open ON agreement (project) WHERE ended_at_ms IS NULL;
CREATE TABLE agreement_verdict (
  agreement_id TEXT NOT NULL, key TEXT NOT NULL, person_id TEXT NOT NULL, revision INTEGER NOT NULL, at_ms INTEGER NOT NULL,
  PRIMARY KEY (agreement_id, key, person_id)
) STRICT, WITHOUT ROWID;
CREATE TABLE agreement_remark (
  remark_id TEXT PRIMARY KEY, agreement_id TEXT NOT NULL, key TEXT NOT NULL, revision INTEGER NOT NULL, quote TEXT NOT NULL, text TEXT NOT NULL,
  by TEXT NOT NULL, at_ms INTEGER NOT NULL, settled_by TEXT
) STRICT, WITHOUT ROWID;
CREATE INDEX agreement_remark_of ON agreement_remark (agreement_id, at_ms);
