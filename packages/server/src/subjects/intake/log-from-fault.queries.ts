// Of logFromFault; reads the table; one row.
export const GET_NAME_OF_COMPONENT_BY_REPOSITORY =
  'SELECT name FROM component WHERE repository = @repository ORDER BY path_prefix IS NOT NULL, name LIMIT 1'

// Of logFromFault and readFaultFrames; by the primary key; one row.
export const GET_RELEASE_OF_FAULT_RELEASE_BY_FINGERPRINT = `SELECT release FROM fault_release
  WHERE fingerprint = @fingerprint AND release <> '' ORDER BY first_at_ms LIMIT 1`

// Of describe; by the primary key; one row.
export const GET_COUNTS = `SELECT g.count, (SELECT count(*) FROM fault_person p WHERE p.fingerprint = g.fingerprint) AS people,
  (SELECT group_concat(DISTINCT r.release) FROM fault_release r WHERE r.fingerprint = g.fingerprint AND r.release <> '') AS releases,
  (SELECT group_concat(DISTINCT r.environment) FROM fault_release r WHERE r.fingerprint = g.fingerprint) AS environments
  FROM fault_group g WHERE g.fingerprint = @fingerprint`

// Of describe; by the primary key and occurrence_group: the newest that is kept; one row.
export const GET_NEWEST = `SELECT o.attributes, o.message, o.trace_id, o.at_ms, t.stacktrace
  FROM occurrence o JOIN trace t ON t.digest = o.trace_digest
  WHERE o.fingerprint = @fingerprint ORDER BY o.occurrence_id DESC LIMIT 1`
