// Of followFaults; by the primary key; at most @limit rows.
export const LIST_GROUP_CHANGE_BY_CURSOR =
  'SELECT cursor, fingerprint FROM group_change WHERE cursor > @cursor ORDER BY cursor LIMIT @limit'

// Of followFaults.
export const INSERT_META = `INSERT INTO meta (name, value) VALUES ('fault-cursor', @value)
  ON CONFLICT (name) DO UPDATE SET value = excluded.value`

// Of readCursor; by the primary key; one row.
export const GET_VALUE_OF_META = `SELECT value FROM meta WHERE name = 'fault-cursor'`

// Of followGroup; by the primary key; one row.
export const GET_FAULT_GROUP_BY_FINGERPRINT = `SELECT fingerprint, service, grouping, trace_digest, first_at_ms, last_at_ms,
  severity_number FROM fault_group
    WHERE fingerprint = @fingerprint`

// Of followGroup; by the primary key.
export const LIST_FAULT_RELEASE_BY_FINGERPRINT = `SELECT release, environment, first_at_ms FROM fault_release
  WHERE fingerprint = @fingerprint AND release <> '' ORDER BY first_at_ms`

// Of findOrNumber; by a unique key; one row.
export const GET_FAULT_BY_FINGERPRINT = 'SELECT number, place, type FROM fault WHERE fingerprint = @fingerprint'

// Of findOrNumber; one row.
export const GET_NUMBER_OF_FAULT = 'SELECT coalesce(max(number), 0) AS number FROM fault'
