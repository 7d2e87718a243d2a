-- What a token is held to, who made it, when it ends and when it was last used; a token of a person has their rights.
ALTER TABLE access_token ADD COLUMN token_id TEXT NOT NULL DEFAULT '';
ALTER TABLE access_token ADD COLUMN services TEXT NOT NULL DEFAULT '[]';
ALTER TABLE access_token ADD COLUMN origins TEXT NOT NULL DEFAULT '[]';
ALTER TABLE access_token ADD COLUMN person_id TEXT;
ALTER TABLE access_token ADD COLUMN made_by TEXT;
ALTER TABLE access_token ADD COLUMN expires_at_ms INTEGER;
ALTER TABLE access_token ADD COLUMN last_used_at_ms INTEGER;
UPDATE access_token SET token_id = lower(hex(randomblob(8)));
CREATE UNIQUE INDEX access_token_id ON access_token (token_id);
CREATE INDEX access_token_project ON access_token (project, created_at_ms);
CREATE INDEX access_token_person ON access_token (person_id, created_at_ms) WHERE person_id IS NOT NULL;
