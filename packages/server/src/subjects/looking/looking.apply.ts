import type { LookingEvents } from '@dystracer/core/looking/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of looking stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const lookingAppliers: Appliers<LookingEvents> = {
  'view-saved': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT OR REPLACE INTO saved_view (view_id, project, owner_id, name, filter, sort, columns, look, is_shared, at_ms)
        VALUES (@viewId, @project, @ownerId, @name, @filter, @sort, @columns, @look, @isShared, @atMs)`,
    ).run({
      ...body,
      columns: JSON.stringify(body.columns),
      look: JSON.stringify(body.look ?? {}),
      isShared: Number(body.isShared),
      atMs: entry.atMs,
    })
  },
  'view-removed': (db, entry) => {
    sql(db, 'DELETE FROM saved_view WHERE view_id = @viewId').run(entry.body)
    sql(db, 'DELETE FROM pinned_view WHERE view_id = @viewId').run(entry.body)
  },
  'view-pinned': (db, entry) => {
    const { viewId, personId, isPinned } = entry.body
    if (isPinned) sql(db, 'INSERT OR IGNORE INTO pinned_view (person_id, view_id) VALUES (@personId, @viewId)').run({ personId, viewId })
    else sql(db, 'DELETE FROM pinned_view WHERE person_id = @personId AND view_id = @viewId').run({ personId, viewId })
  },
}
