// Of readReleaseBoard; reads the table.
export const LIST_ENVIRONMENT = 'SELECT name, kind, needs_approval, position FROM environment ORDER BY position, name'

// Of readReleaseBoard; reads the table.
export const LIST_SERVICE = 'SELECT name, repository FROM service WHERE name NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY name'

// Of readReleaseBoard; by the primary key; one row.
export const GET_AT_OF_ACTIVITY_MINUTE_BY_SERVICE = 'SELECT max(last_at_ms) AS at FROM activity_minute WHERE service = @service'

// Of readReleaseBoard; by the primary key; the minutes of the last hour, a row for each release in each place.
export const LIST_HEARD_BY_SERVICE = `SELECT environment, release, max(last_at_ms) AS lastAtMs FROM activity_minute
  WHERE service = @service AND minute >= @sinceMinute GROUP BY environment, release`

// Of readReleaseBoard; by deployment_place; at most 200 rows.
export const LIST_DEPLOYMENT_BY_SERVICE = `SELECT deployment_id, service, release, environment, state, asked_by,
  approved_by, at_ms, running_at_ms, why FROM deployment WHERE service = @service ORDER BY at_ms DESC LIMIT 200`

// Of releaseRows; by the primary key.
export const LIST_RELEASE_BY_SERVICE = `SELECT r.service, r.name, r.tag, r.sha, r.at_ms, r.is_rewritten, s.repository FROM release r
    JOIN service s ON s.name = r.service WHERE r.service = @service ORDER BY r.at_ms, r.name`

// Of toRelease; by deployment_place.
export const LIST_DEPLOYMENT_BY_SERVICE_AND_NAME = `SELECT environment FROM deployment
  WHERE service = @service AND release = @name AND state = 'running' ORDER BY environment`

// Of itemsFirstIn; by link_from.
export const LIST_LINK_ASSERTION = `SELECT from_id, to_id FROM link_assertion WHERE to_kind = 'commit' AND to_id >= @from AND to_id < @to
    AND kind = 'fixes' AND from_kind = 'item' AND retracted_at_ms IS NULL ORDER BY from_id`

// Of readRelease; by the primary key.
export const LIST_RELEASE_BY_NAME_AND_SERVICE = `SELECT r.service, r.name, r.tag, r.sha, r.at_ms, r.is_rewritten,
    s.repository FROM release r JOIN service s ON s.name = r.service
    WHERE r.name = @name AND (@service IS NULL OR r.service = @service) ORDER BY r.service`

// Of toRelease, withdrawRelease, askDeployment; by the primary key; one row.
export const GET_WITHDRAWAL = 'SELECT why, by, at_ms AS atMs FROM withdrawn_release WHERE service = @service AND release = @release'
