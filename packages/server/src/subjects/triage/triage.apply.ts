import type { TriageEvents } from '@dystracer/core/triage/events'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'
import { touchItem } from '#subjects/records/index'

/** How the events of triage stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const triageAppliers: Appliers<TriageEvents> = {
  'item-accepted': (db, entry) => {
    sql(db, 'UPDATE item SET accepted_at_ms = @atMs, accepted_by = @by, disposition = NULL WHERE key = @key').run({
      key: entry.body.key,
      atMs: entry.atMs,
      by: entry.actor,
    })
    touchItem(db, entry.body.key, entry.atMs)
  },
  'item-rejected': (db, entry) => {
    const { key, disposition, words } = entry.body
    sql(
      db,
      'UPDATE item SET disposition = @disposition, disposed_at_ms = @atMs, disposed_by = @by, disposed_words = @words WHERE key = @key',
    ).run({
      key,
      disposition,
      words,
      atMs: entry.atMs,
      by: entry.actor,
    })
    touchItem(db, key, entry.atMs)
  },
  'acceptance-withdrawn': (db, entry) => {
    const { key } = entry.body
    sql(db, 'UPDATE item SET accepted_at_ms = NULL, accepted_by = NULL WHERE key = @key').run({ key })
    touchItem(db, key, entry.atMs)
  },
  'item-merged': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT OR REPLACE INTO item_merge (item_key, into_key, follower_ids, assertion_ids, fault, by, at_ms)
        VALUES (@key, @into, @followerIds, @assertionIds, @fault, @by, @atMs)`,
    ).run({
      ...body,
      followerIds: JSON.stringify(body.followerIds),
      assertionIds: JSON.stringify(body.assertionIds),
      by: entry.actor,
      atMs: entry.atMs,
    })
    for (const personId of body.followerIds)
      sql(db, 'INSERT OR IGNORE INTO follower (item_key, person_id) VALUES (@into, @personId)').run({ into: body.into, personId })
    if (body.fault !== null) moveFault(db, body.fault, body.key, body.into)
    touchItem(db, body.into, entry.atMs)
    touchItem(db, body.key, entry.atMs)
  },
  'item-split': (db, entry) => {
    const { key } = entry.body
    const merge = sql(db, 'SELECT into_key, follower_ids, fault FROM item_merge WHERE item_key = @key').get<{
      into_key: string
      follower_ids: string
      fault: string | null
    }>({ key })
    if (!merge) return
    for (const personId of JSON.parse(merge.follower_ids) as string[])
      sql(db, 'DELETE FROM follower WHERE item_key = @into AND person_id = @personId').run({ into: merge.into_key, personId })
    if (merge.fault !== null) moveFault(db, merge.fault, merge.into_key, key)
    sql(db, 'DELETE FROM item_merge WHERE item_key = @key').run({ key })
    touchItem(db, merge.into_key, entry.atMs)
    touchItem(db, key, entry.atMs)
  },
  'reporter-asked': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `UPDATE item SET asked_at_ms = @atMs, asked_by = @by, asked_words = @words, asked_until_ms = @untilMs,
        answered_at_ms = NULL WHERE key = @key`,
    ).run({ ...body, atMs: entry.atMs, by: entry.actor })
    touchItem(db, body.key, entry.atMs)
  },
  'reporter-answered': (db, entry) => {
    const { key } = entry.body
    sql(db, 'UPDATE item SET asked_until_ms = NULL, answered_at_ms = @atMs WHERE key = @key').run({ key, atMs: entry.atMs })
    touchItem(db, key, entry.atMs)
  },
  'asking-ended': (db, entry) => {
    const { key } = entry.body
    sql(
      db,
      `UPDATE item SET asked_at_ms = NULL, asked_by = NULL, asked_words = NULL, asked_until_ms = NULL,
        answered_at_ms = NULL WHERE key = @key`,
    ).run({ key })
    touchItem(db, key, entry.atMs)
  },
  'triage-decided': (db, entry) => {
    const { seqs: _seqs, ...body } = entry.body
    sql(
      db,
      `INSERT INTO triage_decision (decision_id, seq, project, item_key, decision, disposition, by, at_ms, waited_ms,
        source, proposed, chosen)
        VALUES (@decisionId, @seq, @project, @key, @decision, @disposition, @by, @atMs, @waitedMs, @source, @proposed, @chosen)`,
    ).run({
      ...body,
      seq: entry.seq,
      by: entry.actor,
      atMs: entry.atMs,
      proposed: JSON.stringify(body.proposed),
      chosen: JSON.stringify(body.chosen),
    })
  },
}

/** The occurrences of a fault count for the item that bears it. */
function moveFault(db: Db, fault: string, from: string, to: string): void {
  sql(db, 'UPDATE item SET fault = NULL WHERE key = @from AND fault = @fault').run({ from, fault })
  sql(db, 'UPDATE item SET fault = @fault WHERE key = @to AND fault IS NULL').run({ to, fault })
}
