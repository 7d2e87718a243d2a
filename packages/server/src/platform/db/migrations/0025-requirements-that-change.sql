-- Why a revision was written, and whether only its spelling changed.
ALTER TABLE requirement_revision ADD COLUMN because TEXT NOT NULL DEFAULT '';
ALTER TABLE requirement_revision ADD COLUMN is_minor INTEGER NOT NULL DEFAULT 0;
-- Gaps between requirements and proofs that people agreed to leave.
CREATE TABLE agreed_gap (
  project TEXT NOT NULL, code TEXT NOT NULL, id TEXT NOT NULL, reason TEXT NOT NULL, until_day TEXT, by TEXT NOT NULL, PRIMARY KEY (project, code, id)
) STRICT, WITHOUT ROWID;
