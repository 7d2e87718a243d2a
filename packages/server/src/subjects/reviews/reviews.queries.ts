import { PULL_REQUEST_COLUMNS } from '#subjects/code/index'

// Of openHere; by the primary key; one row.
export const GET_NEXT_PULL_REQUEST_NUMBER = 'SELECT coalesce(max(number), 0) + 1 AS number FROM pull_request WHERE repository = @repository'

// Of openHere and followPullRequests; by pull_request_ours.
export const LIST_OPEN_PULL_REQUEST_OF_OURS =
  `SELECT ${PULL_REQUEST_COLUMNS} FROM pull_request WHERE repository = @repository AND is_ours = 1 AND state = 'open'
    ORDER BY number` as const

// Of readBranch; by the primary key; one row.
export const GET_SHA_OF_BRANCH =
  "SELECT sha FROM git_ref WHERE repository = @repository AND ref = 'refs/heads/' || @branch AND deleted_at_ms IS NULL"

// Of tiePullRequest; by the primary key; one row.
export const GET_PULL_REQUEST_BY_REPOSITORY_AND_NUMBER =
  `SELECT ${PULL_REQUEST_COLUMNS} FROM pull_request WHERE repository = @repository AND number = @number` as const

// Of tiePullRequest; by the primary key; one row.
export const GET_MESSAGE_OF_GIT_COMMIT_BY_REPOSITORY_AND_SHA =
  'SELECT message FROM git_commit WHERE repository = @repository AND sha = @sha'

// Of requireRepository; by the primary key; one row.
export const GET_REPOSITORY_OF_PULL_REQUEST = 'SELECT url, main_branch FROM repository WHERE name = @repository'
