const COLUMNS = `token_id AS tokenId, name, scope, project, services, origins, person_id AS personId, made_by AS madeBy,
  created_at_ms AS madeAtMs,
  expires_at_ms AS expiresAtMs, last_used_at_ms AS lastUsedAtMs`

// Of whoByToken; by the primary key; one row.
export const GET_ACCESS_TOKEN_BY_TOKEN_HASH = `SELECT ${COLUMNS}, places FROM access_token WHERE token_hash = @tokenHash`

// Of whoByToken; by the primary key; at most once a minute for each token.
export const UPDATE_ACCESS_TOKEN_LAST_USED = 'UPDATE access_token SET last_used_at_ms = @nowMs WHERE token_hash = @tokenHash'

// Of whoByToken; by the primary key; once for each address.
export const UPDATE_ACCESS_TOKEN_PLACES = 'UPDATE access_token SET places = @places WHERE token_hash = @tokenHash'

// Of makeToken.
export const INSERT_ACCESS_TOKEN = `INSERT INTO access_token
  (token_hash, token_id, name, project, scope, services, origins, person_id, made_by, created_at_ms, expires_at_ms)
  VALUES (@tokenHash, @tokenId, @name, @project, @scope, @services, @origins, @personId, @madeBy, @nowMs, @expiresAtMs)`

// Of listTokens; by the index of projects.
export const LIST_ACCESS_TOKEN_BY_PROJECT = `SELECT ${COLUMNS} FROM access_token
  WHERE project = @project AND person_id IS NULL ORDER BY created_at_ms DESC, token_id`

// Of listTokens; by the index of projects: tokens of all projects, for whoever manages the installation.
export const LIST_ACCESS_TOKEN_OF_ALL = `SELECT ${COLUMNS} FROM access_token
  WHERE project IS NULL AND person_id IS NULL ORDER BY created_at_ms DESC, token_id`

// Of listOwnTokens; by the index of people.
export const LIST_ACCESS_TOKEN_BY_PERSON_ID = `SELECT ${COLUMNS} FROM access_token
  WHERE person_id = @personId ORDER BY created_at_ms DESC, token_id`

// Of requireToken; by a unique index; one row.
export const GET_ACCESS_TOKEN_BY_TOKEN_ID = `SELECT ${COLUMNS} FROM access_token WHERE token_id = @tokenId`

// Of revokeToken; by a unique index.
export const DELETE_ACCESS_TOKEN_BY_TOKEN_ID = 'DELETE FROM access_token WHERE token_id = @tokenId'

// Of rotateToken; by a unique index: an end that is nearer stays.
export const UPDATE_ACCESS_TOKEN_EXPIRES = `UPDATE access_token SET expires_at_ms = @expiresAtMs
  WHERE token_id = @tokenId AND (expires_at_ms IS NULL OR expires_at_ms > @expiresAtMs)`

// Of allowsOrigin; reads the table: tokens with origins are few, and browsers ask rarely.
export const HAS_ACCESS_TOKEN_WITH_ORIGIN = `SELECT 1 FROM access_token, json_each(origins) WHERE json_each.value = @origin
  AND (expires_at_ms IS NULL OR expires_at_ms > @nowMs) LIMIT 1`
