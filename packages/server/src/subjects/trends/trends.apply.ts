import type { TrendsEvents } from '@dystracer/core/trends/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of trends stand in the tables. */
export const trendsAppliers: Appliers<TrendsEvents> = {
  'pinned-charts-set': (db, { body: { project, charts } }) => {
    sql(db, 'INSERT OR REPLACE INTO pinned_charts (project, charts) VALUES (@project, @charts)').run({
      project,
      charts: JSON.stringify(charts),
    })
  },
}
