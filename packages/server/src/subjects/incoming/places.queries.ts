// Of placeEvent; reads the table, which has a row for each repository.
export const LIST_CONNECTED_REPOSITORIES = 'SELECT name, url FROM repository WHERE disconnected_at_ms IS NULL ORDER BY name'

// Of placeService; reads the table.
export const LIST_SERVICES = 'SELECT name, repository FROM service ORDER BY name'

// Of tellChange; by the primary key; one row.
export const GET_PULL_REQUEST_TOLD = `SELECT title, body, state, author, head, base, head_sha, merge_sha, created_at_ms, version
  FROM pull_request
    WHERE repository = @repository AND number = @number`
