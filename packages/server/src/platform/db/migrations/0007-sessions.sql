-- Where and when a session was opened and last used; invitations and the like end.
ALTER TABLE session ADD COLUMN opened_at_ms INTEGER NOT NULL DEFAULT 0;
ALTER TABLE session ADD COLUMN used_at_ms INTEGER NOT NULL DEFAULT 0;
ALTER TABLE session ADD COLUMN place TEXT NOT NULL DEFAULT '';
CREATE INDEX session_person ON session (person_id, used_at_ms);
ALTER TABLE secret ADD COLUMN expires_at_ms INTEGER;
