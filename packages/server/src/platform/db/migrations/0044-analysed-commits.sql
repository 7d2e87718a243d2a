-- Commits of which a report of findings came, also one without any: only of those is it known what they have.
CREATE TABLE analysed_commit (repository TEXT NOT NULL, sha TEXT NOT NULL, PRIMARY KEY (repository, sha)) STRICT, WITHOUT ROWID;
INSERT OR IGNORE INTO analysed_commit (repository, sha)
  SELECT json_extract(body, '$.repository'), json_extract(body, '$.sha') FROM journal WHERE kind = 'findings-reported';
