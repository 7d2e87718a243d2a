-- Of what kind a finding is, what it takes to mend it in minutes, and how it comes about; null where its report came before these were read.
ALTER TABLE finding ADD COLUMN kind TEXT;
ALTER TABLE finding ADD COLUMN minutes INTEGER;
ALTER TABLE finding ADD COLUMN detail TEXT;
-- Findings that somebody set aside until a day: they are listed, and no gate counts them.
CREATE TABLE finding_aside (
  repository TEXT NOT NULL, tool TEXT NOT NULL, identity TEXT NOT NULL, until_day TEXT NOT NULL, why TEXT NOT NULL, by TEXT NOT NULL,
  at_ms INTEGER NOT NULL, PRIMARY KEY (repository, tool, identity)
) STRICT, WITHOUT ROWID;
