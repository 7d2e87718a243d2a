import type { InboxEvents } from '@dystracer/core/inbox/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of inbox stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const inboxAppliers: Appliers<InboxEvents> = {
  'person-notified': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT INTO notice (notice_id, person_id, item_key, why, by, words, at_ms, way)
        VALUES (@noticeId, @personId, @key, @why, @by, @words, @atMs, @way)`,
    ).run({ ...body, by: entry.actor, atMs: entry.atMs, way: body.way ?? 'screen' })
  },
  'notices-read': (db, entry) => {
    const { personId, noticeIds } = entry.body
    sql(
      db,
      `UPDATE notice SET read_at_ms = @atMs
        WHERE person_id = @personId AND read_at_ms IS NULL AND notice_id IN (SELECT value FROM json_each(@noticeIds))`,
    ).run({ personId, noticeIds: JSON.stringify(noticeIds), atMs: entry.atMs })
  },
  'notices-mailed': (db, entry) => {
    const { personId, noticeIds } = entry.body
    // What a person wants by mail alone counts as read once it is on its way.
    sql(
      db,
      `UPDATE notice SET mailed_at_ms = @atMs, read_at_ms = CASE WHEN way = 'mail' THEN coalesce(read_at_ms, @atMs) ELSE read_at_ms END
        WHERE person_id = @personId AND notice_id IN (SELECT value FROM json_each(@noticeIds))`,
    ).run({ personId, noticeIds: JSON.stringify(noticeIds), atMs: entry.atMs })
    if (entry.body.messageId !== null) sql(db, 'DELETE FROM mail_refusal WHERE person_id = @personId').run({ personId })
  },
  'mail-set-aside': (db, entry) => {
    const { personId, noticeIds, why } = entry.body
    sql(db, `UPDATE notice SET way = 'screen' WHERE person_id = @personId AND notice_id IN (SELECT value FROM json_each(@noticeIds))`).run({
      personId,
      noticeIds: JSON.stringify(noticeIds),
    })
    sql(
      db,
      `INSERT INTO mail_refusal (person_id, why, at_ms) VALUES (@personId, @why, @atMs)
        ON CONFLICT (person_id) DO UPDATE SET why = excluded.why, at_ms = excluded.at_ms`,
    ).run({ personId, why, atMs: entry.atMs })
  },
  'notices-snoozed': (db, entry) => {
    const { personId, key, untilMs } = entry.body
    sql(db, 'UPDATE notice SET snoozed_until_ms = @untilMs WHERE person_id = @personId AND item_key = @key AND read_at_ms IS NULL').run({
      personId,
      key,
      untilMs,
    })
  },
  'notice-way-chosen': (db, entry) => {
    sql(db, 'INSERT OR REPLACE INTO notice_choice (person_id, why, way) VALUES (@personId, @why, @way)').run(entry.body)
  },
  // Told, not stored.
  'mail-sent': () => {},
}
