-- Since when somebody is gone for good; null while they are here.
ALTER TABLE person ADD COLUMN closed_at_ms INTEGER;
-- Who belonged to a project once and does not any more: their names stay readable to those who do.
CREATE TABLE former_member (project TEXT NOT NULL, person_id TEXT NOT NULL, PRIMARY KEY (project, person_id)) STRICT, WITHOUT ROWID;
CREATE INDEX former_member_person ON former_member (person_id);
INSERT INTO former_member (project, person_id) SELECT DISTINCT json_extract(body, '$.project'), json_extract(body, '$.personId') FROM journal
  WHERE kind = 'role-taken' AND NOT EXISTS (SELECT 1 FROM membership m WHERE m.project = json_extract(body, '$.project') AND m.person_id = json_extract(body, '$.personId'));
