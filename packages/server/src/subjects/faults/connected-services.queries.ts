export const COLUMNS = 'name, project, repository, tag_prefix, path_prefix, own_code, foreign_code'

// Of listConnectedServices; at most 500 rows.
export const LIST_SERVICE = `SELECT ${COLUMNS} FROM service ORDER BY name LIMIT 500` as const

// Of listConnectedServices; reads the table; at most 1000 rows.
export const LIST_ACTIVITY_MINUTE = 'SELECT service, max(last_at_ms) AS at_ms FROM activity_minute GROUP BY service LIMIT 1000'

// Of listConnectedServices; by fault_group_service; at most 1000 rows.
export const LIST_FAULT_GROUP = 'SELECT service, max(last_at_ms) AS at_ms FROM fault_group GROUP BY service LIMIT 1000'

// Of listConnectedServices; reads the table; at most 1000 rows.
export const LIST_SOURCE_MAP = 'SELECT service, count(*) AS count FROM source_map GROUP BY service LIMIT 1000'

// Of listConnectedServices; by fault_group_service and the primary key; at most 50 rows.
export const LIST_FAULT_GROUP_BY_SERVICE = `SELECT DISTINCT r.release FROM fault_group g
  JOIN fault_release r ON r.fingerprint = g.fingerprint WHERE g.service = @service AND r.release <> ''
  ORDER BY r.release DESC LIMIT 50`

// Of connectService; by the primary key; one row.
export const HAS_SERVICE_BY_SERVICE = 'SELECT 1 FROM service WHERE name = @service'

// Of changeService; one row.
export const GET_SERVICE_BY_SERVICE = `SELECT ${COLUMNS} FROM service WHERE name = @service` as const

// Of requireRepository; by the primary key; one row.
export const HAS_REPOSITORY_BY_REPOSITORY = 'SELECT 1 FROM repository WHERE name = @repository'

// Of listScrubRules; reads the table; at most 200 rows.
export const LIST_SCRUB_RULE = 'SELECT rule_id AS ruleId, kind, pattern, name FROM scrub_rule ORDER BY name, rule_id LIMIT 200'

// Of removeScrubRule; by the primary key; one row.
export const HAS_SCRUB_RULE_BY_RULE_ID = 'SELECT 1 FROM scrub_rule WHERE rule_id = @ruleId'
