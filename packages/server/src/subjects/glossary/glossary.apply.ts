import type { GlossaryEvents } from '@dystracer/core/glossary/events'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of the glossary stand in the tables. */
export const glossaryAppliers: Appliers<GlossaryEvents> = {
  'term-set': (db, { body: { project, term, meaning, instead, before }, actor, atMs }) => {
    if (before !== null) remove(db, project, before)
    remove(db, project, term)
    sql(
      db,
      `INSERT INTO glossary_term (project, term, meaning, instead, by, at_ms) VALUES (@project, @term, @meaning, @instead, @by, @atMs)`,
    ).run({ project, term, meaning, instead: JSON.stringify(instead), by: actor, atMs })
  },
  'term-removed': (db, { body: { project, term } }) => remove(db, project, term),
}

function remove(db: Db, project: string, term: string): void {
  sql(db, 'DELETE FROM glossary_term WHERE project = @project AND term = @term').run({ project, term })
}
