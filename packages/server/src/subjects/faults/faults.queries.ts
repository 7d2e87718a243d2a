import { ITEM_COLUMNS } from '#subjects/records/index'
import { STANDS_FOR_FAULT } from '#subjects/intake/index'

export const COLUMNS = 'number, fingerprint, service, type, message, masked_message, place, reason, trace_digest, first_seen_at_ms'

// Of listFaults; one row.
export const GET_FAULT_BY_FINGERPRINT = `SELECT ${COLUMNS} FROM fault WHERE fingerprint = @fingerprint` as const

// Of requireFault; one row.
export const GET_FAULT_BY_NUMBER = `SELECT ${COLUMNS} FROM fault WHERE number = @number` as const

// Of requireFault and logFault; by the primary key; one row.
export const GET_FAULT_GROUP_BY_FINGERPRINT =
  'SELECT fingerprint, first_at_ms, last_at_ms, count, left_out FROM fault_group WHERE fingerprint = @fingerprint'

// Of toFault; by the primary key.
export const LIST_FAULT_RELEASE_BY_FINGERPRINT = `SELECT release, environment FROM fault_release
  WHERE fingerprint = @fingerprint ORDER BY first_at_ms`

// Of toFault; by the primary key; one row.
export const COUNT_FAULT_PERSON_BY_FINGERPRINT = 'SELECT count(*) AS count FROM fault_person WHERE fingerprint = @fingerprint'

// Of toFault; one row.
export const GET_ITEM =
  `SELECT ${ITEM_COLUMNS} FROM item i WHERE ${STANDS_FOR_FAULT} ORDER BY i.is_open DESC, i.created_at_ms DESC LIMIT 1` as const

// Of recentDays; by the primary key.
export const LIST_FAULT_DAY_BY_FINGERPRINT_AND_FROM =
  'SELECT day, count FROM fault_day WHERE fingerprint = @fingerprint AND day >= @from ORDER BY day'

// Of readFault; by the primary key; at most 2000 rows.
export const LIST_FAULT_MINUTE_BY_FINGERPRINT = `SELECT minute, sum(count) AS count FROM fault_minute
  WHERE fingerprint = @fingerprint GROUP BY minute ORDER BY minute DESC LIMIT 2000`

// Of readFault; by fault_site_group; at most 60 rows.
export const LIST_FAULT_SITE_BY_FINGERPRINT =
  'SELECT release, position FROM fault_site WHERE fingerprint = @fingerprint AND position > 0 ORDER BY release, position LIMIT 60'

// Of readFault; by the primary key.
export const LIST_FAULT_RELEASE_FOR_READ_FAULT = `SELECT release, environment, first_at_ms AS firstAtMs,
  last_at_ms AS lastAtMs, count FROM fault_release WHERE fingerprint = @fingerprint ORDER BY first_at_ms`

// Of mergedFaults; by merged_group_into.
export const LIST_MERGED_GROUP_BY_FINGERPRINT = 'SELECT fingerprint FROM merged_group WHERE into_fingerprint = @fingerprint'

// Of mergedFaults; by fault_merged; at most 200 rows.
export const LIST_FAULT_BY_NUMBER = 'SELECT number, fingerprint FROM fault WHERE merged_into = @number ORDER BY number LIMIT 200'

// Of readSamples; by the primary key and occurrence_group; one row.
export const GET_OCCURRENCE_BY_FINGERPRINT = `SELECT o.fingerprint, o.message, o.attributes, o.release, g.service,
      t.stacktrace, t.is_head_cut FROM occurrence o JOIN trace t ON t.digest = o.trace_digest
      JOIN fault_group g ON g.fingerprint = o.fingerprint WHERE o.fingerprint = @fingerprint ORDER BY o.occurrence_id LIMIT 1`

// Of newestReason; by the primary key; one row.
export const GET_GROUPING_OF_FAULT_GROUP_BY_FINGERPRINT = 'SELECT grouping FROM fault_group WHERE fingerprint = @fingerprint'

// Of listAlikeFaults; by fault_group_service; at most 300 rows.
export const LIST_FAULT_GROUP_BY_SERVICE_AND_FINGERPRINT =
  'SELECT fingerprint FROM fault_group WHERE service = @service AND fingerprint <> @fingerprint ORDER BY last_at_ms DESC LIMIT 300'

// Of readFaultFrames and readFaultCauses; by the primary key; one row.
export const GET_FIRST_RELEASE = `SELECT release, environment, first_at_ms AS atMs FROM fault_release
  WHERE fingerprint = @fingerprint AND release <> '' ORDER BY first_at_ms LIMIT 1`
