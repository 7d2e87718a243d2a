import { STAGES } from '@dystracer/core/ladder/ladder'
import { sql } from '../db/statements.js'
import type { Db } from '../db/open.js'
import type { EventBodies, FieldChanges, JournalEntry } from './events.js'

/** Column and how a value is stored, by field; the closed list from which `item-changed` builds its update. */
const COLUMN_BY_FIELD: Record<keyof FieldChanges, string> = {
  title: 'title',
  description: 'description',
  severity: 'severity',
  ownerId: 'owner_id',
  component: 'component',
  milestone: 'milestone',
  labels: 'labels',
  dueOn: 'due_on',
  estimateMinutes: 'estimate_minutes',
  type: 'type',
}

/** Events of items: logging, fields, decisions, comments, time, the ladder. False when the kind is another family's. */
export function applyItemEvent(db: Db, entry: JournalEntry): boolean {
  const at = { atMs: entry.atMs, by: entry.actor }
  switch (entry.kind) {
    case 'item-logged': {
      const body = entry.body as EventBodies['item-logged']
      sql(
        db,
        `INSERT INTO item (key, project, number, type, title, description, severity, reporter_id, component, milestone, labels, found_in, logged_cause, logged_by, fault, created_at_ms, updated_at_ms)
        VALUES (@key, @project, @number, @type, @title, @description, @severity, @reporterId, @component, @milestone, @labels, @foundIn, @cause, @by, @fault, @atMs, @atMs)`,
      ).run({ ...body, ...at, labels: JSON.stringify(body.labels) })
      index(db, body.key)
      return true
    }
    case 'item-changed': {
      const { key, changes } = entry.body as EventBodies['item-changed']
      for (const [field, change] of Object.entries(changes)) {
        const column = COLUMN_BY_FIELD[field as keyof FieldChanges]
        const value = Array.isArray(change.to) ? JSON.stringify(change.to) : change.to
        sql(db, `UPDATE item SET ${column} = @value WHERE key = @key`).run({ key, value })
      }
      if (changes.title || changes.description) index(db, key)
      return touch(db, key, entry.atMs)
    }
    case 'item-accepted':
      sql(db, 'UPDATE item SET accepted_at_ms = @atMs, accepted_by = @by, disposition = NULL WHERE key = @key').run({ ...keyOf(entry), ...at })
      return touch(db, keyOf(entry).key, entry.atMs)
    case 'item-rejected': {
      const { key, disposition, words } = entry.body as EventBodies['item-rejected']
      sql(db, 'UPDATE item SET disposition = @disposition, disposed_at_ms = @atMs, disposed_by = @by, disposed_words = @words WHERE key = @key').run({
        key,
        disposition,
        words,
        ...at,
      })
      return touch(db, key, entry.atMs)
    }
    case 'item-reopened':
      sql(
        db,
        'UPDATE item SET disposition = NULL, disposed_at_ms = NULL, disposed_by = NULL, verified_at_ms = NULL, verified_by = NULL WHERE key = @key',
      ).run(keyOf(entry))
      return touch(db, keyOf(entry).key, entry.atMs)
    case 'item-started':
      sql(db, 'UPDATE item SET started_at_ms = @atMs, started_by = @by WHERE key = @key').run({ ...keyOf(entry), ...at })
      return touch(db, keyOf(entry).key, entry.atMs)
    case 'item-verified':
      sql(db, 'UPDATE item SET verified_at_ms = @atMs, verified_by = @by WHERE key = @key').run({ ...keyOf(entry), ...at })
      return touch(db, keyOf(entry).key, entry.atMs)
    case 'stage-claimed':
      sql(
        db,
        `INSERT INTO claim (item_key, stage, by, at_ms, words) VALUES (@key, @stage, @by, @atMs, @words)
        ON CONFLICT (item_key, stage) DO UPDATE SET by = excluded.by, at_ms = excluded.at_ms, words = excluded.words`,
      ).run({ ...(entry.body as EventBodies['stage-claimed']), ...at })
      return touch(db, keyOf(entry).key, entry.atMs)
    case 'ladder-moved': {
      const { key, ladder, stair } = entry.body as EventBodies['ladder-moved']
      const isSettled = ladder.disposition !== null || (ladder.stage === 'verified' && !ladder.hasComeBack)
      sql(
        db,
        `UPDATE item SET stage = @stage, stage_rank = @rank, stair = @stair, ladder = @ladder, has_come_back = @back, has_drift = @drift, is_open = @open, revision = revision + 1,
        updated_at_ms = max(updated_at_ms, @atMs) WHERE key = @key`,
      ).run({
        key,
        stage: ladder.stage,
        rank: STAGES.indexOf(ladder.stage),
        stair,
        ladder: JSON.stringify(ladder),
        back: Number(ladder.hasComeBack),
        drift: Number(ladder.drift.length > 0),
        open: Number(!isSettled),
        atMs: entry.atMs,
      })
      return true
    }
    case 'comment-added':
      sql(db, 'INSERT INTO comment (comment_id, item_key, by, at_ms, text) VALUES (@commentId, @key, @by, @atMs, @text)').run({
        ...(entry.body as EventBodies['comment-added']),
        ...at,
      })
      return touch(db, keyOf(entry).key, entry.atMs)
    case 'time-booked':
      sql(
        db,
        `INSERT INTO time_entry (entry_id, item_key, person_id, minutes, on_day, provenance, at_ms) VALUES (@entryId, @key, @personId, @minutes, @onDay, @provenance, @atMs)`,
      ).run({ ...(entry.body as EventBodies['time-booked']), atMs: entry.atMs })
      return touch(db, keyOf(entry).key, entry.atMs)
    default:
      return false
  }
}

function keyOf(entry: JournalEntry): { key: string } {
  return { key: (entry.body as { key: string }).key }
}

function touch(db: Db, key: string, atMs: number): true {
  sql(db, 'UPDATE item SET revision = revision + 1, updated_at_ms = max(updated_at_ms, @atMs) WHERE key = @key').run({ key, atMs })
  return true
}

/** The search index follows the text; it is a cache, so `verify` does not compare it. */
function index(db: Db, key: string): void {
  sql(db, 'DELETE FROM item_search WHERE rowid = (SELECT number FROM item WHERE key = @key)').run({ key })
  sql(db, 'INSERT INTO item_search (rowid, key, title, description) SELECT number, key, title, description FROM item WHERE key = @key').run({ key })
}
