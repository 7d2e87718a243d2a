-- Why a revision was written, and whether only its spelling changed.
ALTER TABLE requirement_revision ADD COLUMN because TEXT NOT NULL DEFAULT '';
ALTER TABLE requirement_revision ADD COLUMN is_minor INTEGER NOT NULL DEFAULT 0;
-- Gaps between requirements and proofs that people agreed to leave.
CREATE TABLE agreed_gap (
  project TEXT NOT NULL, code TEXT NOT NULL, id TEXT NOT NULL, reason TEXT NOT NULL, until_day TEXT, by TEXT NOT NULL, PRIMARY KEY (project, code, id)
) STRICT, WITHOUT ROWID;
-- States of the requirements under a name; what they hold never changes.
CREATE TABLE baseline (
  project TEXT NOT NULL, baseline_id TEXT NOT NULL, name TEXT NOT NULL, words TEXT NOT NULL, hash TEXT NOT NULL, at_ms INTEGER NOT NULL, by TEXT NOT NULL, snapshot TEXT NOT NULL,
  withdrawn_words TEXT, PRIMARY KEY (project, baseline_id)
) STRICT, WITHOUT ROWID;
CREATE TABLE baseline_agreement (baseline_id TEXT NOT NULL, person_id TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (baseline_id, person_id)) STRICT, WITHOUT ROWID;
