// Of followFaults; by the primary key; at most @limit rows.
export const LIST_GROUP_CHANGE_BY_CURSOR =
  'SELECT cursor, fingerprint FROM group_change WHERE cursor > @cursor ORDER BY cursor LIMIT @limit'

// Of followFaults.
export const INSERT_META = `INSERT INTO meta (name, value) VALUES ('fault-cursor', @value) ON CONFLICT (name) DO UPDATE SET value = excluded.value`

// Of readCursor; by the primary key; one row.
export const GET_VALUE_OF_META = `SELECT value FROM meta WHERE name = 'fault-cursor'`

// Of followGroup; by the primary key; one row.
export const GET_FAULT_GROUP_BY_FINGERPRINT =
  'SELECT fingerprint, service, grouping, trace_digest, first_at_ms, last_at_ms, severity_number FROM fault_group WHERE fingerprint = @fingerprint'

// Of followGroup; by the primary key.
export const LIST_FAULT_RELEASE_BY_FINGERPRINT = `SELECT release, environment, first_at_ms FROM fault_release WHERE fingerprint = @fingerprint AND release <> '' ORDER BY first_at_ms`

// Of findOrNumber; by a unique key; one row.
export const GET_FAULT_BY_FINGERPRINT = 'SELECT number, place, type FROM fault WHERE fingerprint = @fingerprint'

// Of findOrNumber; one row.
export const GET_NUMBER_OF_FAULT = 'SELECT coalesce(max(number), 0) AS number FROM fault'

// Of applyRules; by the primary key; one row.
export const GET_SERVICE_BY_NAME = 'SELECT project, repository FROM service WHERE name = @name'

// Of applyRules; reads the table.
export const LIST_INTAKE_RULE_BY_PROJECT =
  'SELECT rule_id, project, name, environment_kind, severity_at_least, count_at_least, window_ms FROM intake_rule WHERE project = @project ORDER BY rule_id'

// Of applyRules; by the primary key; one row.
export const HAS_RULE_FIRING_BY_RULE_ID_AND_NUMBER = 'SELECT 1 FROM rule_firing WHERE rule_id = @ruleId AND fault = @number'

// Of fires; reads the table.
export const LIST_ENVIRONMENT = 'SELECT name, kind FROM environment'

// Of fires; by occurrence_group; at most @limit rows.
export const LIST_OCCURRENCE_BY_FINGERPRINT_AND_ENVIRONMENT = `SELECT at_ms FROM occurrence WHERE fingerprint = @fingerprint AND environment = @environment AND at_ms > @since ORDER BY occurrence_id DESC LIMIT @limit`

// Of logFromFault; reads the table; one row.
export const GET_NAME_OF_COMPONENT_BY_REPOSITORY =
  'SELECT name FROM component WHERE repository = @repository ORDER BY path_prefix IS NOT NULL, name LIMIT 1'

// Of logFromFault; by the primary key; one row.
export const GET_RELEASE_OF_FAULT_RELEASE_BY_FINGERPRINT = `SELECT release FROM fault_release WHERE fingerprint = @fingerprint AND release <> '' ORDER BY first_at_ms LIMIT 1`
