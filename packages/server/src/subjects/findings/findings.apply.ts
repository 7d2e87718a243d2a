import type { FindingsEvents } from '@dystracer/core/findings/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of findings stand in the tables. */
export const findingsAppliers: Appliers<FindingsEvents> = {
  'finding-set-aside': (db, { body: { repository, tool, identity, untilDay, why }, actor, atMs }) => {
    if (untilDay === null)
      sql(db, 'DELETE FROM finding_aside WHERE repository = @repository AND tool = @tool AND identity = @identity').run({
        repository,
        tool,
        identity,
      })
    else
      sql(
        db,
        `INSERT OR REPLACE INTO finding_aside (repository, tool, identity, until_day, why, by, at_ms)
          VALUES (@repository, @tool, @identity, @untilDay, @why, @by, @atMs)`,
      ).run({ repository, tool, identity, untilDay, why, by: actor, atMs })
  },
}
