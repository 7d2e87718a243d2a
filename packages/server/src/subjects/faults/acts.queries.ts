// Of logFault and silenceOf; by the primary key; one row.
export const GET_FAULT_BY_NUMBER = 'SELECT fingerprint, service, merged_into FROM fault WHERE number = @number'

// Of logFault and silenceOf; by the primary key; one row.
export const GET_GROUP = `SELECT fingerprint, service, grouping, trace_digest, first_at_ms, last_at_ms, severity_number, count
  FROM fault_group WHERE fingerprint = @fingerprint`

// Of logFault; by the primary key; one row.
export const GET_SERVICE_BY_NAME = 'SELECT project, repository FROM service WHERE name = @name'
