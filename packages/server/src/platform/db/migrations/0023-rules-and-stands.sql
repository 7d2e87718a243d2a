-- What intake rules ask, do and may, beside what they began with.
ALTER TABLE intake_rule ADD COLUMN position INTEGER NOT NULL DEFAULT 0;
ALTER TABLE intake_rule ADD COLUMN people_at_least INTEGER NOT NULL DEFAULT 0;
ALTER TABLE intake_rule ADD COLUMN condition TEXT NOT NULL DEFAULT '';
ALTER TABLE intake_rule ADD COLUMN deed TEXT NOT NULL DEFAULT '{}';
ALTER TABLE intake_rule ADD COLUMN per_hour INTEGER;
ALTER TABLE intake_rule ADD COLUMN per_day INTEGER;
ALTER TABLE intake_rule ADD COLUMN goes_on INTEGER NOT NULL DEFAULT 0;
ALTER TABLE intake_rule ADD COLUMN is_draft INTEGER NOT NULL DEFAULT 0;
CREATE TABLE intake_budget (project TEXT PRIMARY KEY, per_hour INTEGER, per_day INTEGER) STRICT, WITHOUT ROWID;
ALTER TABLE rule_firing ADD COLUMN outcome TEXT NOT NULL DEFAULT 'logged';
ALTER TABLE rule_firing ADD COLUMN count INTEGER NOT NULL DEFAULT 0;
ALTER TABLE rule_firing ADD COLUMN people INTEGER NOT NULL DEFAULT 0;
CREATE INDEX rule_firing_at ON rule_firing (at_ms);
CREATE INDEX rule_firing_fault ON rule_firing (fault);
-- What people decided about a fault, as they said it; its items are links.
CREATE TABLE fault_stand (number INTEGER PRIMARY KEY, stand TEXT NOT NULL) STRICT;
