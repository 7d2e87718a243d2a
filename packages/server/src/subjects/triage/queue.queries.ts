import { VISIBLE_ITEM, ITEM_COLUMNS } from '#subjects/records/index'

export const READ_WAITING = `
  SELECT i.key, i.revision, i.title, i.severity, i.component, i.fault, i.has_come_back, i.created_at_ms, i.found_in,
    i.logged_cause, i.came_from, i.answered_at_ms
  FROM json_each(@keys) k JOIN item i ON i.key = k.value ORDER BY i.key`

/**
 * What waits for a decision: nobody has decided yet, or it came back; while its reporter is asked it waits for them instead. Two indices
 * hold exactly these.
 */
export const UNDECIDED = 'i.is_open = 1 AND i.is_archived = 0 AND i.stage_rank = 0 AND i.accepted_at_ms IS NULL AND i.has_come_back = 0'

export const CAME_BACK = 'i.is_open = 1 AND i.is_archived = 0 AND i.has_come_back = 1'

export const LIST_WAITING = `
  SELECT i.key, i.revision, i.asked_until_ms FROM item i INDEXED BY item_undecided WHERE ${UNDECIDED} AND ${VISIBLE_ITEM}
  UNION ALL SELECT i.key, i.revision, i.asked_until_ms FROM item i INDEXED BY item_came_back
    WHERE ${CAME_BACK} AND ${VISIBLE_ITEM}` as const

// Of readPast; by item_component_severity.
export const LIST_ITEM = `SELECT component, severity, count(*) AS count FROM item INDEXED BY item_component_severity
    WHERE accepted_at_ms IS NOT NULL AND severity IS NOT NULL AND component IS NOT NULL GROUP BY component, severity`

// Of rankQueue; by item_merge_into.
export const LIST_ITEM_MERGE = 'SELECT into_key, count(*) AS count FROM item_merge INDEXED BY item_merge_into GROUP BY into_key'

// Of rankQueue; reads the table.
export const LIST_RELEASE = 'SELECT service, name FROM release ORDER BY at_ms'

// Of readFaultCounts; by the primary key.
export const LIST_FAULT = 'SELECT f.number, f.fingerprint FROM json_each(@numbers) n JOIN fault f ON f.number = n.value ORDER BY f.number'

// Of readFaultCounts; reads the table.
export const LIST_ENVIRONMENT = `SELECT name FROM environment WHERE kind = 'production' ORDER BY name`

// Of readFaultCounts; by the primary key.
export const LIST_FAULT_PERSON_BY_PRODUCTION_AND_FINGERPRINTS = `SELECT g.fingerprint, g.count,
    (SELECT count(*) FROM fault_person p WHERE p.fingerprint = g.fingerprint) AS people,
    EXISTS (SELECT 1 FROM fault_release r
      WHERE r.fingerprint = g.fingerprint AND r.environment IN (SELECT value FROM json_each(@production))) AS live
    FROM json_each(@fingerprints) k JOIN fault_group g ON g.fingerprint = k.value ORDER BY g.fingerprint`

// Of readRows.
export const LIST_ITEM_FOR_READ_ROWS = `SELECT ${ITEM_COLUMNS}, p.name AS reporter FROM json_each(@keys) k JOIN item i ON i.key = k.value
    LEFT JOIN person p ON p.person_id = i.reporter_id ORDER BY i.key` as const

// Of serviceOf; by the primary key; one row.
export const GET_SERVICE_OF_FAULT_BY_NUMBER = 'SELECT service FROM fault WHERE number = @number'
