import { sql } from '../db/statements.js'
import type { Db } from '../db/open.js'
import type { EventBodies, JournalEntry } from './events.js'
import { touchItem } from './touch-item.js'

/** Events of deciding: acceptance withdrawn, merging and splitting, asking the reporter, what was decided, how new items are routed, who is on duty. False for another family's kinds. */
export function applyTriageEvent(db: Db, entry: JournalEntry): boolean {
  switch (entry.kind) {
    case 'acceptance-withdrawn': {
      const { key } = entry.body as EventBodies['acceptance-withdrawn']
      sql(db, 'UPDATE item SET accepted_at_ms = NULL, accepted_by = NULL WHERE key = @key').run({ key })
      return touchItem(db, key, entry.atMs)
    }
    case 'item-merged': {
      const body = entry.body as EventBodies['item-merged']
      sql(
        db,
        `INSERT OR REPLACE INTO item_merge (item_key, into_key, follower_ids, assertion_ids, fault, by, at_ms) VALUES (@key, @into, @followerIds, @assertionIds, @fault, @by, @atMs)`,
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
      return touchItem(db, body.key, entry.atMs)
    }
    case 'item-split': {
      const { key } = entry.body as EventBodies['item-split']
      const merge = sql<object, { into_key: string; follower_ids: string; fault: string | null }>(
        db,
        'SELECT into_key, follower_ids, fault FROM item_merge WHERE item_key = @key',
      ).get({ key })
      if (!merge) return true
      for (const personId of JSON.parse(merge.follower_ids) as string[])
        sql(db, 'DELETE FROM follower WHERE item_key = @into AND person_id = @personId').run({ into: merge.into_key, personId })
      if (merge.fault !== null) moveFault(db, merge.fault, merge.into_key, key)
      sql(db, 'DELETE FROM item_merge WHERE item_key = @key').run({ key })
      touchItem(db, merge.into_key, entry.atMs)
      return touchItem(db, key, entry.atMs)
    }
    case 'reporter-asked': {
      const body = entry.body as EventBodies['reporter-asked']
      sql(
        db,
        'UPDATE item SET asked_at_ms = @atMs, asked_by = @by, asked_words = @words, asked_until_ms = @untilMs, answered_at_ms = NULL WHERE key = @key',
      ).run({ ...body, atMs: entry.atMs, by: entry.actor })
      return touchItem(db, body.key, entry.atMs)
    }
    case 'reporter-answered': {
      const { key } = entry.body as EventBodies['reporter-answered']
      sql(db, 'UPDATE item SET asked_until_ms = NULL, answered_at_ms = @atMs WHERE key = @key').run({ key, atMs: entry.atMs })
      return touchItem(db, key, entry.atMs)
    }
    case 'asking-ended': {
      const { key } = entry.body as EventBodies['asking-ended']
      sql(
        db,
        'UPDATE item SET asked_at_ms = NULL, asked_by = NULL, asked_words = NULL, asked_until_ms = NULL, answered_at_ms = NULL WHERE key = @key',
      ).run({ key })
      return touchItem(db, key, entry.atMs)
    }
    case 'triage-decided': {
      const { seqs: _seqs, ...body } = entry.body as EventBodies['triage-decided']
      sql(
        db,
        `INSERT INTO triage_decision (decision_id, seq, project, item_key, decision, disposition, by, at_ms, waited_ms, source, proposed, chosen)
        VALUES (@decisionId, @seq, @project, @key, @decision, @disposition, @by, @atMs, @waitedMs, @source, @proposed, @chosen)`,
      ).run({
        ...body,
        seq: entry.seq,
        by: entry.actor,
        atMs: entry.atMs,
        proposed: JSON.stringify(body.proposed),
        chosen: JSON.stringify(body.chosen),
      })
      return true
    }
    case 'routing-rule-set': {
      const body = entry.body as EventBodies['routing-rule-set']
      sql(
        db,
        'INSERT OR REPLACE INTO routing_rule (rule_id, project, position, name, conditions, sets) VALUES (@ruleId, @project, @position, @name, @conditions, @sets)',
      ).run({ ...body, conditions: JSON.stringify(body.conditions), sets: JSON.stringify(body.sets) })
      return true
    }
    case 'routing-rule-removed':
      sql(db, 'DELETE FROM routing_rule WHERE project = @project AND rule_id = @ruleId').run(entry.body)
      return true
    case 'duty-set': {
      const { project, weekOn, personId } = entry.body as EventBodies['duty-set']
      if (personId === null) sql(db, 'DELETE FROM duty WHERE project = @project AND week_on = @weekOn').run({ project, weekOn })
      else
        sql(db, 'INSERT OR REPLACE INTO duty (project, week_on, person_id) VALUES (@project, @weekOn, @personId)').run({ project, weekOn, personId })
      return true
    }
    default:
      return false
  }
}

/** The occurrences of a fault count for the item that bears it. */
function moveFault(db: Db, fault: string, from: string, to: string): void {
  sql(db, 'UPDATE item SET fault = NULL WHERE key = @from AND fault = @fault').run({ from, fault })
  sql(db, 'UPDATE item SET fault = @fault WHERE key = @to AND fault IS NULL').run({ to, fault })
}
