-- Pull requests that live here, of repositories that plain git alone reaches; and where the base stood before such a one was merged.
ALTER TABLE pull_request ADD COLUMN is_ours INTEGER NOT NULL DEFAULT 0;
ALTER TABLE pull_request ADD COLUMN base_sha TEXT;
CREATE INDEX pull_request_ours ON pull_request (repository, number) WHERE is_ours = 1 AND state = 'open';
