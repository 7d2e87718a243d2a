// Of servicesConcerned; by the primary key; one row.
export const GET_FAULT_OF_ITEM = `SELECT coalesce(m.fingerprint, f.fingerprint) AS fingerprint, f.service
  FROM fault f LEFT JOIN fault m ON m.number = f.merged_into WHERE f.number = @number`

// Of readAffected, in the volume; by the primary key; at most 500 rows.
export const LIST_SEEN_IN = `SELECT release, environment, count, last_at_ms AS lastAtMs FROM fault_release
  WHERE fingerprint = @fingerprint ORDER BY release, environment LIMIT 500`

// Of servicesConcerned; reads the services, tens of rows.
export const LIST_SERVICES_OF_COMPONENT = `SELECT service.name FROM service
  JOIN component ON component.project = service.project AND component.repository = service.repository
  WHERE component.project = @project AND component.name = @component ORDER BY service.name`

// Of readAffected; by the primary key; tens of rows.
export const LIST_RELEASES_OF_SERVICE =
  'SELECT name, at_ms AS atMs FROM release WHERE service = @service ORDER BY at_ms DESC, name LIMIT 60'

// Of readAffected; reads the environments, a handful of rows.
export const LIST_ENVIRONMENTS_TO_TRY = 'SELECT name FROM environment ORDER BY position, name'

// Of readAffected; by the primary key.
export const LIST_SAID_OF_ITEM = `SELECT service, release, environment, verdict, by, at_ms AS atMs FROM item_affected
  WHERE item_key = @key ORDER BY service, release, environment`

// Of readAffected; by the primary keys and test_done_case: what was done by hand of cases that verify the item, oldest first.
export const LIST_TRIED_BY_HAND = `SELECT p.release, d.environment, d.outcome, d.by, d.at_ms AS atMs FROM test_case c
  CROSS JOIN json_each(c.verifies) v CROSS JOIN test_done d ON d.project = c.project AND d.number = c.number
  CROSS JOIN test_plan p ON p.project = d.project AND p.plan_id = d.plan_id
  WHERE c.project = @project AND c.is_retired = 0 AND v.value = @key AND p.release IS NOT NULL AND d.outcome IN ('passed', 'failed')
  ORDER BY d.at_ms, d.result_id`

// Of sayAffected; by the primary key; one row.
export const HAS_RELEASE = 'SELECT 1 FROM release WHERE service = @service AND name = @release'

// Of sayAffected; by the primary key; one row.
export const HAS_ENVIRONMENT_NAMED = 'SELECT 1 FROM environment WHERE name = @environment'
