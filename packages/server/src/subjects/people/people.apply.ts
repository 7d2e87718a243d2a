import type { PeopleEvents } from '@dystracer/core/people/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of people stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const peopleAppliers: Appliers<PeopleEvents> = {
  'person-added': (db, entry) => {
    sql(db, 'INSERT INTO person (person_id, name, initials, email) VALUES (@personId, @name, @initials, @email)').run(entry.body)
  },
  'role-given': (db, entry) => {
    sql(
      db,
      `INSERT INTO membership (project, person_id, role) VALUES (@project, @personId, @role)
        ON CONFLICT (project, person_id) DO UPDATE SET role = excluded.role`,
    ).run(entry.body)
    sql(db, 'DELETE FROM former_member WHERE project = @project AND person_id = @personId').run({
      project: entry.body.project,
      personId: entry.body.personId,
    })
    sql(db, 'UPDATE person SET closed_at_ms = NULL WHERE person_id = @personId').run({ personId: entry.body.personId })
  },
  'account-closed': (db, entry) => {
    sql(db, 'UPDATE person SET closed_at_ms = @atMs WHERE person_id = @personId').run({ personId: entry.body.personId, atMs: entry.atMs })
  },
  'role-taken': (db, entry) => {
    const { project, personId } = entry.body
    sql(db, 'DELETE FROM membership WHERE project = @project AND person_id = @personId').run({ project, personId })
    sql(db, 'INSERT OR IGNORE INTO former_member (project, person_id) VALUES (@project, @personId)').run({ project, personId })
  },
  'address-claimed': (db, entry) => {
    sql(
      db,
      `INSERT INTO person_address (person_id, email, claimed_at_ms) VALUES (@personId, @email, @atMs)
        ON CONFLICT (person_id, email) DO NOTHING`,
    ).run({ ...entry.body, atMs: entry.atMs })
  },
  'address-confirmed': (db, entry) => {
    sql(
      db,
      `INSERT INTO person_address (person_id, email, claimed_at_ms, confirmed_at_ms) VALUES (@personId, @email, @atMs, @atMs)
        ON CONFLICT (person_id, email) DO UPDATE SET confirmed_at_ms = excluded.confirmed_at_ms`,
    ).run({ ...entry.body, atMs: entry.atMs })
  },
  'address-given-up': (db, entry) => {
    sql(db, 'DELETE FROM person_address WHERE person_id = @personId AND email = @email').run(entry.body)
  },
  'time-zone-chosen': (db, entry) => {
    sql(db, 'UPDATE person SET time_zone = @timeZone WHERE person_id = @personId').run(entry.body)
  },
  'person-renamed': (db, entry) => {
    sql(db, 'UPDATE person SET name = @to, initials = @initials WHERE person_id = @personId').run(entry.body)
  },
}
