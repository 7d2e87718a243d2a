export const COLUMNS = `o.occurrence_id, o.fingerprint, g.service, o.at_ms, o.received_at_ms, o.release,
  o.environment, o.message, o.severity_number, o.attributes, o.trace_id, o.trace_digest,
  r.attributes AS resource, t.stacktrace, t.is_head_cut FROM occurrence o
    JOIN fault_group g ON g.fingerprint = o.fingerprint JOIN resource r ON r.digest = o.resource_digest
    JOIN trace t ON t.digest = o.trace_digest`

// Of listOccurrences; at most @limit rows.
export const LIST_ROWS_BY_FINGERPRINT_AND_BEFORE =
  `SELECT ${COLUMNS} WHERE o.fingerprint = @fingerprint AND o.occurrence_id < @before ORDER BY o.occurrence_id DESC LIMIT @limit` as const

// Of readOccurrence; one row.
export const GET_ROWS_BY_OCCURRENCE_ID = `SELECT ${COLUMNS} WHERE o.occurrence_id = CAST(@occurrenceId AS INTEGER)` as const

// Of readOccurrence; by occurrence_group; one row.
export const COUNT_OCCURRENCE_BY_FINGERPRINT_AND_RELEASE =
  'SELECT count(*) AS count FROM occurrence WHERE fingerprint = @fingerprint AND release = @release AND trace_digest = @digest'
