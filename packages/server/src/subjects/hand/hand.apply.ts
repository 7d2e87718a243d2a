import type { HandEvents } from '@dystracer/core/hand/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of hand stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const handAppliers: Appliers<HandEvents> = {
  'taken-in-hand': (db, entry) => {
    const { personId, key, branch } = entry.body
    sql(
      db,
      `INSERT INTO in_hand (person_id, item_key, taken_at_ms, branch, worked_ms, offered_ms) VALUES (@personId, @key, @atMs, @branch, 0, 0)
        ON CONFLICT (person_id, item_key) DO UPDATE
          SET taken_at_ms = excluded.taken_at_ms, parked_at_ms = NULL,
          branch = coalesce(excluded.branch, in_hand.branch)`,
    ).run({ personId, key, branch, atMs: entry.atMs })
  },
  parked: (db, entry) => {
    const { personId, key, branch } = entry.body
    sql(
      db,
      `UPDATE in_hand SET parked_at_ms = @atMs, worked_ms = worked_ms + max(0, @atMs - taken_at_ms), branch = coalesce(@branch, branch)
        WHERE person_id = @personId AND item_key = @key AND parked_at_ms IS NULL`,
    ).run({ personId, key, branch, atMs: entry.atMs })
  },
  'put-down': (db, entry) => {
    sql(db, 'DELETE FROM in_hand WHERE person_id = @personId AND item_key = @key').run(entry.body)
  },
  'hand-time-booked': (db, entry) => {
    sql(db, 'UPDATE in_hand SET offered_ms = offered_ms + @coveredMs WHERE person_id = @personId AND item_key = @key').run(entry.body)
  },
}
