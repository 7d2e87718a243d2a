import { STANDS_FOR_FAULT } from './fault-items.queries.js'

// Of readHistory; by the primary key: the minutes of a span.
export const LIST_MINUTE = `SELECT minute, environment, count FROM fault_minute
  WHERE fingerprint = @fingerprint AND minute >= @fromMinute AND minute <= @toMinute ORDER BY minute`

// Of readHistory; by the primary key; one row.
export const GET_MINUTE_BEFORE = 'SELECT max(minute) AS minute FROM fault_minute WHERE fingerprint = @fingerprint AND minute < @fromMinute'

// Of readHistory; by the primary key.
export const LIST_RELEASE = `SELECT release, environment, first_at_ms AS firstAtMs FROM fault_release
  WHERE fingerprint = @fingerprint ORDER BY first_at_ms`

// Of readHistory; by the primary key; so many as a rule can ask for.
export const LIST_PERSON_MINUTE =
  'SELECT first_minute AS minute FROM fault_person WHERE fingerprint = @fingerprint ORDER BY first_minute LIMIT 100000'

// Of readHistory; items that stand for a fault, and since when: one that was logged from it from its beginning, another from the link on.
export const LIST_STAND = `SELECT i.key, i.is_open AS isOpen,
    CASE WHEN i.fault = 'F-' || @number THEN i.created_at_ms
      ELSE coalesce((SELECT min(l.at_ms) FROM link_assertion l WHERE l.to_kind = 'fault'
      AND l.from_kind = 'item' AND l.from_id = i.key AND l.retracted_at_ms IS NULL AND l.to_id = 'F-' || @number),
        i.created_at_ms) END AS fromMs,
    coalesce(i.disposed_at_ms, i.verified_at_ms, i.updated_at_ms) AS untilMs
  FROM item i WHERE ${STANDS_FOR_FAULT} ORDER BY fromMs LIMIT 500` as const

// Of readEnvironments; reads the table, which is small.
export const LIST_ENVIRONMENT = 'SELECT name, kind FROM environment'

// Of faultsOfProject; by the index of services; the faults of a project that were seen since a time are told by the other database.
export const LIST_FAULT_OF_PROJECT = `SELECT f.number, f.fingerprint, f.service, f.type, f.message, f.place, s.repository FROM fault f
  JOIN service s ON s.name = f.service WHERE s.project = @project AND f.merged_into IS NULL ORDER BY f.number`

// Of faultOf; by the primary key; one row.
export const GET_FAULT = `SELECT f.number, f.fingerprint, f.service, f.type, f.message, f.place,
  coalesce(s.repository, '') AS repository, s.project
  FROM fault f LEFT JOIN service s ON s.name = f.service WHERE f.number = @number`

// Of readHistory and nowOf; by the primary key; one row.
export const GET_GROUP = 'SELECT first_at_ms, last_at_ms, severity_number, count FROM fault_group WHERE fingerprint = @fingerprint'

// Of standingAt; open items that stand for other faults at the same place of the code.
export const LIST_STANDING_AT = `SELECT f.number, i.key, i.created_at_ms AS fromMs FROM fault f
  JOIN item i ON i.is_open = 1 AND (i.fault = 'F-' || f.number OR i.key IN (SELECT l.from_id FROM link_assertion l WHERE l.to_kind = 'fault'
    AND l.from_kind = 'item' AND l.kind = 'tied' AND l.retracted_at_ms IS NULL AND l.to_id = 'F-' || f.number))
  WHERE f.service = @service AND f.place = @place AND f.number <> @number ORDER BY i.created_at_ms LIMIT 20`
