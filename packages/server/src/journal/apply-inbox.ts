import { sql } from '../db/statements.js'
import type { Db } from '../db/open.js'
import type { EventBodies, JournalEntry } from './events.js'

/** Events of what people are told and what they have in hand. False for another family's kinds. */
export function applyInboxEvent(db: Db, entry: JournalEntry): boolean {
  const { atMs } = entry
  switch (entry.kind) {
    case 'person-notified': {
      const body = entry.body as EventBodies['person-notified']
      sql(
        db,
        'INSERT INTO notice (notice_id, person_id, item_key, why, by, words, at_ms, way) VALUES (@noticeId, @personId, @key, @why, @by, @words, @atMs, @way)',
      ).run({ ...body, by: entry.actor, atMs, way: body.way ?? 'screen' })
      return true
    }
    case 'notices-read': {
      const { personId, noticeIds } = entry.body as EventBodies['notices-read']
      sql(
        db,
        'UPDATE notice SET read_at_ms = @atMs WHERE person_id = @personId AND read_at_ms IS NULL AND notice_id IN (SELECT value FROM json_each(@noticeIds))',
      ).run({ personId, noticeIds: JSON.stringify(noticeIds), atMs })
      return true
    }
    case 'notices-mailed': {
      const { personId, noticeIds } = entry.body as EventBodies['notices-mailed']
      // What a person wants by mail alone counts as read once it is on its way.
      sql(
        db,
        `UPDATE notice SET mailed_at_ms = @atMs, read_at_ms = CASE WHEN way = 'mail' THEN coalesce(read_at_ms, @atMs) ELSE read_at_ms END
        WHERE person_id = @personId AND notice_id IN (SELECT value FROM json_each(@noticeIds))`,
      ).run({ personId, noticeIds: JSON.stringify(noticeIds), atMs })
      return true
    }
    case 'notices-snoozed': {
      const { personId, key, untilMs } = entry.body as EventBodies['notices-snoozed']
      sql(db, 'UPDATE notice SET snoozed_until_ms = @untilMs WHERE person_id = @personId AND item_key = @key AND read_at_ms IS NULL').run({
        personId,
        key,
        untilMs,
      })
      return true
    }
    case 'notice-way-chosen':
      sql(db, 'INSERT OR REPLACE INTO notice_choice (person_id, why, way) VALUES (@personId, @why, @way)').run(entry.body)
      return true
    case 'taken-in-hand': {
      const { personId, key, branch } = entry.body as EventBodies['taken-in-hand']
      sql(
        db,
        `INSERT INTO in_hand (person_id, item_key, taken_at_ms, branch, worked_ms, offered_ms) VALUES (@personId, @key, @atMs, @branch, 0, 0)
        ON CONFLICT (person_id, item_key) DO UPDATE SET taken_at_ms = excluded.taken_at_ms, parked_at_ms = NULL, branch = coalesce(excluded.branch, in_hand.branch)`,
      ).run({ personId, key, branch, atMs })
      return true
    }
    case 'parked': {
      const { personId, key, branch } = entry.body as EventBodies['parked']
      sql(
        db,
        `UPDATE in_hand SET parked_at_ms = @atMs, worked_ms = worked_ms + max(0, @atMs - taken_at_ms), branch = coalesce(@branch, branch)
        WHERE person_id = @personId AND item_key = @key AND parked_at_ms IS NULL`,
      ).run({ personId, key, branch, atMs })
      return true
    }
    case 'put-down':
      sql(db, 'DELETE FROM in_hand WHERE person_id = @personId AND item_key = @key').run(entry.body)
      return true
    case 'hand-time-booked':
      sql(db, 'UPDATE in_hand SET offered_ms = offered_ms + @coveredMs WHERE person_id = @personId AND item_key = @key').run(entry.body)
      return true
    default:
      return false
  }
}
