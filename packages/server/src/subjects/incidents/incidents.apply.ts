import type { IncidentsEvents } from '@dystracer/core/incidents/events'
import type { IncidentFacts } from '@dystracer/core/incidents/wire'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'
import { GET_INCIDENT, type IncidentRow } from './incidents.queries.js'

/** How the events of incidents stand in the tables. */
export const incidentsAppliers: Appliers<IncidentsEvents> = {
  'incident-opened': (db, { body, actor }) => {
    sql(
      db,
      `INSERT INTO incident (project, number, title, severity, service, environment, started_at_ms, lead_id, cause, opened_by)
        VALUES (@project, @number, @title, @severity, @service, @environment, @startedAtMs, @leadId, @cause, @actor)`,
    ).run({ ...body, actor })
  },
  'incident-changed': (db, { body: { project, number, changes } }) => {
    const row = sql(db, GET_INCIDENT).get<IncidentRow>({ project, number })
    if (!row) return
    const { title, severity, service, environment, startedAtMs, leadId, cause } = { ...row, ...changes } satisfies IncidentFacts
    sql(
      db,
      `UPDATE incident SET title = @title, severity = @severity, service = @service, environment = @environment,
          started_at_ms = @startedAtMs, lead_id = @leadId, cause = @cause
        WHERE project = @project AND number = @number`,
    ).run({ project, number, title, severity, service, environment, startedAtMs, leadId, cause })
  },
  'incident-noted': (db, { body, actor }) => {
    sql(
      db,
      `INSERT INTO incident_note (note_id, project, number, text, happened_at_ms, by)
        VALUES (@noteId, @project, @number, @text, @happenedAtMs, @by)`,
    ).run({ ...body, by: actor })
  },
  'incident-note-removed': (db, { body: { noteId } }) => {
    sql(db, 'DELETE FROM incident_note WHERE note_id = @noteId').run({ noteId })
  },
  'incident-ended': (db, { body }) => {
    sql(db, 'UPDATE incident SET over_at_ms = @overAtMs WHERE project = @project AND number = @number').run(body)
  },
  'incident-item-tied': (db, { body: { project, number, key, role } }) => {
    if (role === null)
      sql(db, 'DELETE FROM incident_item WHERE project = @project AND number = @number AND item_key = @key').run({ project, number, key })
    else
      sql(
        db,
        `INSERT INTO incident_item (project, number, item_key, role) VALUES (@project, @number, @key, @role)
          ON CONFLICT (project, number, item_key) DO UPDATE SET role = excluded.role`,
      ).run({ project, number, key, role })
  },
}
