// Of due; by the primary key.
export const LIST_REPOSITORY_BY_POLL_MS = `SELECT r.name FROM repository r LEFT JOIN repository_state s ON s.repository = r.name
      WHERE r.disconnected_at_ms IS NULL AND coalesce(s.retry_at_ms, s.fetched_at_ms + @pollMs, 0) <= @nowMs ORDER BY r.name`

// Of syncOnce; by the primary key; one row.
export const GET_URL_OF_REPOSITORY_BY_REPOSITORY = 'SELECT url FROM repository WHERE name = @repository AND disconnected_at_ms IS NULL'

// Of syncOnce.
export const INSERT_REPOSITORY_STATE = `INSERT INTO repository_state
        (repository, fetched_at_ms, trouble, retry_at_ms, failures) VALUES (@repository, @nowMs, NULL, NULL, 0)
        ON CONFLICT (repository) DO UPDATE SET fetched_at_ms = excluded.fetched_at_ms, trouble = NULL, retry_at_ms = NULL, failures = 0`

// Of readCommits; by the primary key.
export const LIST_GIT_REF_BY_REPOSITORY =
  'SELECT DISTINCT sha FROM git_ref WHERE repository = @repository AND deleted_at_ms IS NULL AND sha IS NOT NULL'

// Of noteTrouble; by the primary key; one row.
export const GET_FAILURES_OF_REPOSITORY_STATE_BY_REPOSITORY = 'SELECT failures FROM repository_state WHERE repository = @repository'

// Of noteTrouble.
export const INSERT_REPOSITORY_STATE_FOR_NOTE_TROUBLE = `INSERT INTO repository_state
      (repository, trouble, retry_at_ms, failures) VALUES (@repository, @trouble, @retryAtMs, @failures)
      ON CONFLICT (repository) DO UPDATE SET trouble = excluded.trouble, retry_at_ms = excluded.retry_at_ms, failures = excluded.failures`

// Of movesTo; by the primary key.
export const LIST_GIT_REF_FOR_MOVES_TO =
  'SELECT ref, sha FROM git_ref WHERE repository = @repository AND deleted_at_ms IS NULL AND sha IS NOT NULL'

// Of pullRequestsOf; by the primary key.
export const LIST_PULL_REQUEST_BY_REPOSITORY =
  'SELECT number, head, head_sha, merge_sha FROM pull_request WHERE repository = @repository ORDER BY number'

// Of itemsConcerned; by link_to.
export const LIST_ITEMS_BY_COMMITS = `SELECT DISTINCT l.from_id FROM json_each(@ids) j
    JOIN link_assertion l ON l.to_kind = 'commit' AND l.to_id = j.value
    WHERE l.from_kind = 'item' AND l.retracted_at_ms IS NULL`

// Of itemsConcerned; by link_to.
export const LIST_ITEMS_OF_BRANCHES = `SELECT DISTINCT l.from_id FROM json_each(@ids) j
    JOIN link_assertion l ON l.to_kind = 'branch' AND l.to_id = j.value
    WHERE l.from_kind = 'item' AND l.retracted_at_ms IS NULL`

// Of itemsOfPullRequests; by link_to and the primary key.
export const LIST_ITEMS_OF_PULL_REQUESTS = `SELECT DISTINCT l.from_id, p.head, p.head_sha, p.merge_sha, p.base_sha FROM link_assertion l
    JOIN pull_request p ON p.repository = @repository AND p.number = CAST(substr(l.to_id, length(@from) + 1) AS INTEGER)
    WHERE l.to_kind = 'pull-request' AND l.to_id >= @from AND l.to_id < @to AND l.from_kind = 'item' AND l.retracted_at_ms IS NULL`

// Of indexCommits.
export const INSERT_GIT_COMMIT = `INSERT OR IGNORE INTO git_commit
    (repository, sha, parents, patch_id, author_name, author_email, author_at_ms, committed_at_ms, message, reverts,
    files, seen_at_ms)
    VALUES (@repository, @sha, @parents, @patch_id, @author_name, @author_email, @author_at_ms, @committed_at_ms,
      @message, @reverts, @files, @seen_at_ms)`

// Of indexCommits; at most 2,000 rows of a commit.
export const INSERT_COMMIT_PATHS = `INSERT OR IGNORE INTO commit_path (repository, path, committed_at_ms, sha)
  SELECT @repository, json_extract(f.value, '$.path'), @committed_at_ms, @sha FROM json_each(@files) f WHERE f.key < 2000`

// Of tieCommit; by the primary key; one row.
export const GET_GIT_COMMIT_BY_REPOSITORY_AND_SHA =
  'SELECT message, author_name, author_email, author_at_ms, patch_id FROM git_commit WHERE repository = @repository AND sha = @sha'

// Of noteRelease; reads the table.
export const LIST_SERVICE_BY_REPOSITORY = 'SELECT name, tag_prefix FROM service WHERE repository = @repository ORDER BY name'
