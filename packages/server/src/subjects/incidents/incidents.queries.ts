import type { ItemRole } from '@dystracer/core/incidents/wire'

/** One row of `incident`. */
export interface IncidentRow {
  number: number
  title: string
  severity: number
  service: string | null
  environment: string
  startedAtMs: number
  overAtMs: number | null
  leadId: string | null
  cause: string
  openedBy: string
}
/** An item that belongs to an incident. */
export interface IncidentItemRow {
  number: number
  key: string
  role: ItemRole
  title: string
  isOpen: 0 | 1
}

// Of requireIncident and the applier; by the primary key; one row.
export const GET_INCIDENT = `
  SELECT number, title, severity, service, environment, started_at_ms AS startedAtMs, over_at_ms AS overAtMs, lead_id AS leadId, cause,
    opened_by AS openedBy
  FROM incident WHERE project = @project AND number = @number`

// Of requireFacts; by the primary key; one row.
export const HAS_MEMBER = 'SELECT 1 FROM membership WHERE person_id = @personId AND project = @project'

// Of openIncident; by the primary key; one row.
export const GET_LAST_INCIDENT_NUMBER = 'SELECT max(number) AS number FROM incident WHERE project = @project'

// Of listIncidents; by the primary key, backwards; a page.
export const LIST_INCIDENTS = `
  SELECT number, title, severity, service, environment, started_at_ms AS startedAtMs, over_at_ms AS overAtMs, lead_id AS leadId, cause,
    opened_by AS openedBy
  FROM incident WHERE project = @project AND number < @before ORDER BY number DESC LIMIT @limit`

// Of listIncidents and readIncident; by the primary keys; the items of the incidents of a page.
export const LIST_INCIDENT_ITEMS = `SELECT t.number, t.item_key AS key, t.role, i.title, i.is_open AS isOpen
  FROM json_each(@numbers) n JOIN incident_item t ON t.project = @project AND t.number = n.value JOIN item i ON i.key = t.item_key
  ORDER BY t.number, t.item_key`

// Of readIncident; by incident_note_incident; the notes of one incident.
export const LIST_NOTES = `SELECT note_id AS noteId, text, happened_at_ms AS atMs, by FROM incident_note
  WHERE project = @project AND number = @number ORDER BY happened_at_ms, note_id`

// Of removeNote; by the primary key; one row.
export const HAS_NOTE = 'SELECT 1 FROM incident_note WHERE note_id = @noteId AND project = @project AND number = @number'

// Of readIncident; services are tens, and few are a project's.
export const LIST_SERVICES = 'SELECT name, repository FROM service WHERE project = @project ORDER BY name'

// Of readIncident; deployments are thousands over the years; sorts those of the services asked for.
export const LIST_RUNS = `SELECT service, release, environment, state, coalesce(running_at_ms, at_ms) AS atMs, running_at_ms AS ranAtMs
  FROM deployment WHERE service IN (SELECT value FROM json_each(@services)) AND environment = @environment
    AND coalesce(running_at_ms, at_ms) <= @toMs
  ORDER BY atMs DESC LIMIT 200`

// Of readIncident; the faults of the services asked for, those first seen last.
export const LIST_FAULTS = `SELECT number, fingerprint, type || ': ' || message AS title, first_seen_at_ms AS atMs FROM fault
  WHERE service IN (SELECT value FROM json_each(@services)) AND merged_into IS NULL AND first_seen_at_ms <= @toMs
  ORDER BY first_seen_at_ms DESC LIMIT 500`

// Of readIncident; by the primary key of minutes; those of the faults asked for, in the minutes of the incident.
export const COUNT_BY_FAULT = `SELECT m.fingerprint, sum(m.count) AS count
  FROM json_each(@fingerprints) f JOIN fault_minute m ON m.fingerprint = f.value
  WHERE m.minute BETWEEN @fromMinute AND @toMinute AND m.environment = @environment
  GROUP BY m.fingerprint`

// Of readIncident; by the keys of commits; pull requests of the repositories asked for that were merged in the time.
export const LIST_MERGES = `SELECT p.repository, p.number, p.title, c.committed_at_ms AS atMs
  FROM pull_request p JOIN git_commit c ON c.repository = p.repository AND c.sha = p.merge_sha
  WHERE p.repository IN (SELECT value FROM json_each(@repositories)) AND p.state = 'merged'
    AND c.committed_at_ms BETWEEN @fromMs AND @toMs
  ORDER BY c.committed_at_ms DESC LIMIT 50`

// Of endToldIncident; by incident_item_key; few rows.
export const LIST_INCIDENTS_OF_ITEM = `SELECT t.project, t.number, n.over_at_ms AS overAtMs FROM incident_item t
  JOIN incident n ON n.project = t.project AND n.number = t.number
  WHERE t.item_key = @key AND t.role = 'report'`

// Of openIncidentByRule; by the index of those that are open; one row.
export const GET_OPEN_INCIDENT_OF_SERVICE = `SELECT number FROM incident INDEXED BY incident_open
  WHERE project = @project AND over_at_ms IS NULL AND service = @service AND environment = @environment ORDER BY number DESC LIMIT 1`
