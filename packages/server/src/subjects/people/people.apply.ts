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
  },
}
