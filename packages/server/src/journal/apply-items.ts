import { STAGES } from '@dystracer/core/ladder/ladder'
import { sql } from '../db/statements.js'
import type { Db } from '../db/open.js'
import type { EventBodies, FieldChanges, JournalEntry } from './events.js'
import { renewLinkIds } from './link-ids.js'
import { touchItem } from './touch-item.js'

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
  priority: 'priority',
  coOwnerIds: 'co_owner_ids',
  sprint: 'sprint',
  points: 'points',
  foundIn: 'found_in',
  plannedFor: 'planned_for',
  classification: 'classification',
  ownValues: 'own_values',
  isConfidential: 'is_confidential',
  namedIds: 'named_ids',
  isArchived: 'is_archived',
}

/** Events of items: logging, fields, decisions, comments, time, the ladder. False when the kind is another family's. */
export function applyItemEvent(db: Db, entry: JournalEntry): boolean {
  const at = { atMs: entry.atMs, by: entry.actor }
  switch (entry.kind) {
    case 'item-logged': {
      const body = entry.body as EventBodies['item-logged']
      sql(
        db,
        `INSERT INTO item (key, project, number, type, title, description, severity, reporter_id, component, milestone, labels, found_in, logged_cause, logged_by, fault, created_at_ms, updated_at_ms, came_from)
        VALUES (@key, @project, @number, @type, @title, @description, @severity, @reporterId, @component, @milestone, @labels, @foundIn, @cause, @by, @fault, @atMs, @atMs, @from)`,
      ).run({ ...body, ...at, from: body.from ?? null, labels: JSON.stringify(body.labels) })
      noteNumber(db, body.project, body.number)
      index(db, body.key)
      return true
    }
    case 'item-changed': {
      const { key, changes } = entry.body as EventBodies['item-changed']
      for (const [field, change] of Object.entries(changes)) {
        const column = COLUMN_BY_FIELD[field as keyof FieldChanges]
        sql(db, `UPDATE item SET ${column} = @value WHERE key = @key`).run({ key, value: toColumn(change.to) })
      }
      if (changes.title || changes.description) index(db, key)
      return touchItem(db, key, entry.atMs)
    }
    case 'item-accepted':
      sql(db, 'UPDATE item SET accepted_at_ms = @atMs, accepted_by = @by, disposition = NULL WHERE key = @key').run({ ...keyOf(entry), ...at })
      return touchItem(db, keyOf(entry).key, entry.atMs)
    case 'item-rejected': {
      const { key, disposition, words } = entry.body as EventBodies['item-rejected']
      sql(db, 'UPDATE item SET disposition = @disposition, disposed_at_ms = @atMs, disposed_by = @by, disposed_words = @words WHERE key = @key').run({
        key,
        disposition,
        words,
        ...at,
      })
      return touchItem(db, key, entry.atMs)
    }
    case 'item-reopened':
      sql(
        db,
        'UPDATE item SET disposition = NULL, disposed_at_ms = NULL, disposed_by = NULL, verified_at_ms = NULL, verified_by = NULL WHERE key = @key',
      ).run(keyOf(entry))
      return touchItem(db, keyOf(entry).key, entry.atMs)
    case 'item-started':
      sql(db, 'UPDATE item SET started_at_ms = @atMs, started_by = @by WHERE key = @key').run({ ...keyOf(entry), ...at })
      return touchItem(db, keyOf(entry).key, entry.atMs)
    case 'item-verified':
      sql(db, 'UPDATE item SET verified_at_ms = @atMs, verified_by = @by WHERE key = @key').run({ ...keyOf(entry), ...at })
      return touchItem(db, keyOf(entry).key, entry.atMs)
    case 'stage-claimed':
      sql(
        db,
        `INSERT INTO claim (item_key, stage, by, at_ms, words) VALUES (@key, @stage, @by, @atMs, @words)
        ON CONFLICT (item_key, stage) DO UPDATE SET by = excluded.by, at_ms = excluded.at_ms, words = excluded.words`,
      ).run({ ...(entry.body as EventBodies['stage-claimed']), ...at })
      return touchItem(db, keyOf(entry).key, entry.atMs)
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
    case 'time-booked':
      sql(
        db,
        `INSERT INTO time_entry (entry_id, item_key, person_id, minutes, on_day, provenance, at_ms) VALUES (@entryId, @key, @personId, @minutes, @onDay, @provenance, @atMs)`,
      ).run({ ...(entry.body as EventBodies['time-booked']), atMs: entry.atMs })
      return touchItem(db, keyOf(entry).key, entry.atMs)
    case 'time-taken-back':
      sql(db, 'UPDATE time_entry SET taken_back_at_ms = @atMs WHERE entry_id = @entryId').run({
        entryId: (entry.body as EventBodies['time-taken-back']).entryId,
        atMs: entry.atMs,
      })
      return touchItem(db, keyOf(entry).key, entry.atMs)
    case 'item-moved':
      moveItem(db, entry.body as EventBodies['item-moved'])
      return touchItem(db, (entry.body as EventBodies['item-moved']).newKey, entry.atMs)
    case 'change-undone':
      sql(db, 'UPDATE triage_decision SET undone_at_ms = @atMs WHERE seq = @seq').run({
        seq: (entry.body as EventBodies['change-undone']).seq,
        atMs: entry.atMs,
      })
      return true
    default:
      return false
  }
}

/** How a field's value stands in its column: lists and records as JSON, claims as 0 and 1. */
function toColumn(value: unknown): string | number | null {
  if (typeof value === 'boolean') return Number(value)
  return typeof value === 'object' && value !== null ? JSON.stringify(value) : ((value ?? null) as string | number | null)
}

function keyOf(entry: JournalEntry): { key: string } {
  return { key: (entry.body as { key: string }).key }
}

/** Numbers are never given twice, also when the item that had the highest has moved away. */
function noteNumber(db: Db, project: string, number: number): void {
  sql(db, 'UPDATE project SET last_number = max(last_number, @number) WHERE prefix = @project').run({ project, number })
}

/** A moved item takes everything along; its old key stays as an alias. Links keep their meaning, so their identities are made anew. */
function moveItem(db: Db, { key, newKey, project, number }: EventBodies['item-moved']): void {
  const bind = { key, newKey }
  // Its comments are numbered by its row in the search index, which it keeps.
  sql(db, 'UPDATE item_search_row SET key = @newKey WHERE key = @key').run(bind)
  sql(db, 'UPDATE item SET key = @newKey, project = @project, number = @number WHERE key = @key').run({ ...bind, project, number })
  noteNumber(db, project, number)
  for (const table of [
    'claim',
    'comment',
    'time_entry',
    'follower',
    'notice',
    'attachment',
    'rule_firing',
    'triage_decision',
    'item_merge',
    'in_hand',
    'private_note',
  ] as const)
    sql(db, `UPDATE ${table} SET item_key = @newKey WHERE item_key = @key`).run(bind)
  for (const side of ['from', 'to'] as const)
    sql(db, `UPDATE link_assertion SET ${side}_id = @newKey WHERE ${side}_kind = 'item' AND ${side}_id = @key`).run(bind)
  sql(db, 'UPDATE item_merge SET into_key = @newKey WHERE into_key = @key').run(bind)
  renewLinkIds(db, newKey)
  sql(db, `UPDATE OR IGNORE journal_subject SET subject = 'item:' || @newKey WHERE subject = 'item:' || @key`).run(bind)
  sql(db, 'UPDATE key_alias SET key = @newKey WHERE key = @key').run(bind)
  sql(db, 'INSERT OR REPLACE INTO key_alias (alias, key) VALUES (@key, @newKey)').run(bind)
  index(db, newKey)
}

/** The search index follows the text; it is a cache, so `verify` does not compare it. */
function index(db: Db, key: string): void {
  sql(db, 'INSERT OR IGNORE INTO item_search_row (key) VALUES (@key)').run({ key })
  sql(db, 'DELETE FROM item_search WHERE rowid = (SELECT rowid FROM item_search_row WHERE key = @key)').run({ key })
  sql(
    db,
    'INSERT INTO item_search (rowid, title, description) SELECT r.rowid, i.title, i.description FROM item_search_row r JOIN item i ON i.key = r.key WHERE r.key = @key',
  ).run({ key })
}
