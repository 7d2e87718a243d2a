import type { AuditsEvents } from '@dystracer/core/audits/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of kept reports stand in the tables. */
export const auditsAppliers: Appliers<AuditsEvents> = {
  'audit-reports-scheduled': (db, { body }) => {
    sql(db, 'INSERT OR REPLACE INTO audit_schedule (project, every) VALUES (@project, @every)').run(body)
  },
  'audit-report-kept': (db, { body: { project, at, words, figures }, actor }) => {
    sql(db, 'INSERT OR REPLACE INTO kept_report (project, at, words, by, figures) VALUES (@project, @at, @words, @by, @figures)').run({
      project,
      at,
      words,
      by: actor,
      figures: JSON.stringify(figures),
    })
  },
}
