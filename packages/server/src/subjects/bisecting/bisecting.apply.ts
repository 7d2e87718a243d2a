import type { BisectingEvents } from '@dystracer/core/bisecting/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of searches by building stand in the tables. */
export const bisectingAppliers: Appliers<BisectingEvents> = {
  'bisection-begun': (db, { body, actor, atMs }) => {
    sql(
      db,
      `INSERT INTO bisection (bisection_id, repository, suite, name, good, bad, build, by, at_ms, guilty)
        VALUES (@bisectionId, @repository, @suite, @name, @good, @bad, @build, @actor, @atMs, '[]')`,
    ).run({ ...body, actor, atMs })
  },
  'bisection-ended': (db, { body: { bisectionId, outcome, guilty }, atMs }) => {
    sql(db, 'UPDATE bisection SET outcome = @outcome, guilty = @guilty, ended_at_ms = @atMs WHERE bisection_id = @bisectionId').run({
      bisectionId,
      outcome,
      guilty: JSON.stringify(guilty),
      atMs,
    })
  },
}
