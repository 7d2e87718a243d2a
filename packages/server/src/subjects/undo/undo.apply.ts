import type { UndoEvents } from '@dystracer/core/undo/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of undo stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const undoAppliers: Appliers<UndoEvents> = {
  'change-undone': (db, entry) => {
    sql(db, 'UPDATE triage_decision SET undone_at_ms = @atMs WHERE seq = @seq').run({
      seq: entry.body.seq,
      atMs: entry.atMs,
    })
  },
}
