// Of readItemCode; by link_from: what an item is tied to in code.
export const LIST_CODE_OF_ITEM = `SELECT DISTINCT to_kind AS kind, to_id AS id FROM link_assertion
  WHERE from_kind = 'item' AND from_id = @key AND to_kind IN ('commit', 'branch', 'pull-request') AND retracted_at_ms IS NULL
  ORDER BY at_ms LIMIT 500`

// Of readItemCode; by the primary key; one row for each pull request.
export const GET_PULL_REQUEST_OF_ITEM = `SELECT repository, number, title, state, head_sha, merge_sha, base_sha FROM pull_request
  WHERE repository = @repository AND number = @number`

// Of readItemCode; reads the services of a repository and their releases, the newest 200.
export const LIST_RELEASE_OF_REPOSITORY = `SELECT r.service, r.name, r.sha FROM service s JOIN release r ON r.service = s.name
  WHERE s.repository = @repository ORDER BY r.at_ms DESC LIMIT 200`

// Of readItemCode; by commit_path's primary key: how many commits touched a path after a time.
export const COUNT_PATH_SINCE = `SELECT count(*) AS count
  FROM commit_path p JOIN git_commit c ON c.repository = p.repository AND c.sha = p.sha
  WHERE p.repository = @repository AND p.path = @path AND p.committed_at_ms > @sinceMs AND json_array_length(c.parents) < 2`
