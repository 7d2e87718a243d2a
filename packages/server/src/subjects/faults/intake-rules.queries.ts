// Of applyRules; by the primary key; one row.
export const GET_SERVICE_BY_NAME = 'SELECT project, repository FROM service WHERE name = @name'

// Of applyRules; reads the table.
export const LIST_INTAKE_RULE_BY_PROJECT =
  'SELECT rule_id, project, name, environment_kind, severity_at_least, count_at_least, window_ms FROM intake_rule WHERE project = @project ORDER BY rule_id'

// Of applyRules; by the primary key; one row.
export const HAS_RULE_FIRING_BY_RULE_ID_AND_NUMBER = 'SELECT 1 FROM rule_firing WHERE rule_id = @ruleId AND fault = @number'

// Of environmentKinds; reads the table.
export const LIST_ENVIRONMENT = 'SELECT name, kind FROM environment'

// Of fires; by the primary key: where the fault was seen, set up or not.
export const LIST_ENVIRONMENT_OF_FAULT = 'SELECT DISTINCT environment AS name FROM fault_release WHERE fingerprint = @fingerprint'

// Of fires; by occurrence_group; at most @limit rows.
export const LIST_OCCURRENCE_BY_FINGERPRINT_AND_ENVIRONMENT = `SELECT at_ms FROM occurrence WHERE fingerprint = @fingerprint AND environment = @environment AND at_ms > @since ORDER BY occurrence_id DESC LIMIT @limit`

// Of logFromFault; reads the table; one row.
export const GET_NAME_OF_COMPONENT_BY_REPOSITORY =
  'SELECT name FROM component WHERE repository = @repository ORDER BY path_prefix IS NOT NULL, name LIMIT 1'

// Of logFromFault; by the primary key; one row.
export const GET_RELEASE_OF_FAULT_RELEASE_BY_FINGERPRINT = `SELECT release FROM fault_release WHERE fingerprint = @fingerprint AND release <> '' ORDER BY first_at_ms LIMIT 1`

// Of listIntakeRules; reads the tables, which are small.
export const LIST_INTAKE_RULE_WITH_FIRINGS = `SELECT r.rule_id AS ruleId, r.name, r.environment_kind AS environmentKind,
  r.severity_at_least AS severityAtLeast, r.count_at_least AS countAtLeast, r.window_ms AS windowMs, count(f.fault) AS fired, max(f.at_ms) AS lastFiredAtMs
  FROM intake_rule r LEFT JOIN rule_firing f ON f.rule_id = r.rule_id WHERE r.project = @project GROUP BY r.rule_id ORDER BY r.rule_id`

// Of setIntakeRule and removeIntakeRule; by the primary key; one row.
export const GET_INTAKE_RULE = 'SELECT project, name FROM intake_rule WHERE rule_id = @ruleId'

// Of tryIntakeRule; by the index of services; at most @limit rows, the newest first.
export const LIST_FAULT_OF_PROJECT = `SELECT f.number, f.fingerprint, f.service, f.type, f.message FROM fault f JOIN service s ON s.name = f.service
  WHERE s.project = @project AND f.merged_into IS NULL ORDER BY f.number DESC LIMIT @limit`

// Of logFault; by the primary key; one row.
export const GET_FAULT_BY_NUMBER = 'SELECT fingerprint, service, merged_into FROM fault WHERE number = @number'

// Of logFault and tryIntakeRule; by the primary key; one row.
export const GET_FAULT_GROUP =
  'SELECT fingerprint, service, grouping, trace_digest, first_at_ms, last_at_ms, severity_number FROM fault_group WHERE fingerprint = @fingerprint'
