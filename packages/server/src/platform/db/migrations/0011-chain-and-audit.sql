-- Each entry of the journal carries a hash over itself and the entry before it; what was written earlier is chained at the first start.
ALTER TABLE journal ADD COLUMN chain TEXT;
-- What concerns the security of the installation: who came in, who was refused, what was given and taken. Never changed, never replayed.
CREATE TABLE audit_entry (
  audit_id INTEGER PRIMARY KEY, at_ms INTEGER NOT NULL, kind TEXT NOT NULL, actor TEXT NOT NULL, about TEXT, place TEXT NOT NULL, facts TEXT NOT NULL
) STRICT;
-- Where a token was used from, the newest last; and how often a password was wrong since it was last right.
ALTER TABLE access_token ADD COLUMN places TEXT NOT NULL DEFAULT '[]';
ALTER TABLE credential ADD COLUMN failures INTEGER NOT NULL DEFAULT 0;
ALTER TABLE credential ADD COLUMN locked_until_ms INTEGER NOT NULL DEFAULT 0;
