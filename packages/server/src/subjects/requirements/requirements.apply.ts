import type { RequirementsEvents } from '@dystracer/core/requirements/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of requirements stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const requirementsAppliers: Appliers<RequirementsEvents> = {
  'requirement-written': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT INTO requirement (key, title, text, parent, is_heading, revision, position) VALUES (@key, @title, @text, @parent, @isHeading, @revision, @position)
        ON CONFLICT (key) DO UPDATE SET title = excluded.title, text = excluded.text, parent = excluded.parent, is_heading = excluded.is_heading, revision = excluded.revision`,
    ).run({ ...body, isHeading: Number(body.isHeading) })
    sql(
      db,
      'INSERT INTO requirement_revision (key, revision, title, text, at_ms, by) VALUES (@key, @revision, @title, @text, @atMs, @by)',
    ).run({
      key: body.key,
      revision: body.revision,
      title: body.title,
      text: body.text,
      atMs: entry.atMs,
      by: entry.actor,
    })
  },
}
