import type { IncomingEvents } from '@dystracer/core/incoming/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of what comes in stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const incomingAppliers: Appliers<IncomingEvents> = {
  'hook-set': (db, { body }) => {
    const { hookId, project, name } = body
    sql(
      db,
      `INSERT OR REPLACE INTO hook (hook_id, project, name, proof, readings)
        VALUES (@hookId, @project, @name, @proof, @readings)`,
    ).run({ hookId, project, name, proof: JSON.stringify(body.proof), readings: JSON.stringify(body.readings) })
  },
  'hook-removed': (db, { body }) => {
    sql(db, 'DELETE FROM hook WHERE hook_id = @hookId AND project = @project').run(body)
  },
}
