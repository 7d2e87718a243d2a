import { ITEM_FIELDS } from '@dystracer/core/setup/item-fields'
import type { ItemsEvents } from '@dystracer/core/items/events'
import type { FieldChanges } from '@dystracer/core/records/events'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'
import { renewLinkIds, touchItem } from '#subjects/records/index'

/** How the events of items stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const itemsAppliers: Appliers<ItemsEvents> = {
  'item-logged': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT INTO item (key, project, number, type, title, description, severity, reporter_id, component, milestone,
        labels, found_in, logged_cause, logged_by, fault, created_at_ms, updated_at_ms, came_from)
        VALUES (@key, @project, @number, @type, @title, @description, @severity, @reporterId, @component, @milestone,
          @labels, @foundIn, @cause, @by, @fault, @atMs, @atMs, @from)`,
    ).run({ ...body, atMs: entry.atMs, by: entry.actor, from: body.from ?? null, labels: JSON.stringify(body.labels) })
    noteNumber(db, body.project, body.number)
    index(db, body.key)
  },
  'item-moved': (db, entry) => {
    moveItem(db, entry.body)
    touchItem(db, entry.body.newKey, entry.atMs)
  },
  'item-changed': (db, entry) => {
    const { key, changes } = entry.body
    for (const [field, change] of Object.entries(changes)) {
      // The column comes from the closed list of declared fields.
      const { column } = ITEM_FIELDS[field as keyof FieldChanges]
      sql(db, `UPDATE item SET ${column} = @value WHERE key = @key`).run({ key, value: toColumn(change.to) })
    }
    if (changes.title || changes.description) index(db, key)
    touchItem(db, key, entry.atMs)
  },
  'item-baselined': (db, entry) => {
    sql(
      db,
      'UPDATE item SET baseline_stage = @stage, baseline_words = @words, baseline_at_ms = @atMs, baseline_by = @by WHERE key = @key',
    ).run({ ...entry.body, atMs: entry.atMs, by: entry.actor })
    touchItem(db, entry.body.key, entry.atMs)
  },
  'item-affected-said': (db, entry) => {
    const { verdict, ...place } = entry.body
    if (verdict === null)
      sql(
        db,
        'DELETE FROM item_affected WHERE item_key = @key AND service = @service AND release = @release AND environment = @environment',
      ).run(place)
    else
      sql(
        db,
        `INSERT OR REPLACE INTO item_affected (item_key, service, release, environment, verdict, by, at_ms)
          VALUES (@key, @service, @release, @environment, @verdict, @by, @atMs)`,
      ).run({ ...place, verdict, by: entry.actor, atMs: entry.atMs })
    touchItem(db, entry.body.key, entry.atMs)
  },
  'item-started': (db, entry) => {
    sql(db, 'UPDATE item SET started_at_ms = @atMs, started_by = @by WHERE key = @key').run({
      key: entry.body.key,
      atMs: entry.atMs,
      by: entry.actor,
    })
    touchItem(db, entry.body.key, entry.atMs)
  },
  'item-verified': (db, entry) => {
    sql(db, 'UPDATE item SET verified_at_ms = @atMs, verified_by = @by WHERE key = @key').run({
      key: entry.body.key,
      atMs: entry.atMs,
      by: entry.actor,
    })
    touchItem(db, entry.body.key, entry.atMs)
  },
  'item-reopened': (db, entry) => {
    sql(
      db,
      `UPDATE item SET disposition = NULL, disposed_at_ms = NULL, disposed_by = NULL, verified_at_ms = NULL,
        verified_by = NULL, baseline_stage = NULL WHERE key = @key`,
    ).run({ key: entry.body.key })
    touchItem(db, entry.body.key, entry.atMs)
  },
  'stage-claimed': (db, entry) => {
    sql(
      db,
      `INSERT INTO claim (item_key, stage, by, at_ms, words) VALUES (@key, @stage, @by, @atMs, @words)
        ON CONFLICT (item_key, stage) DO UPDATE SET by = excluded.by, at_ms = excluded.at_ms, words = excluded.words,
          accepted_by = NULL, accepted_at_ms = NULL, accepted_words = NULL`,
    ).run({ ...entry.body, atMs: entry.atMs, by: entry.actor })
    touchItem(db, entry.body.key, entry.atMs)
  },
  'claim-accepted': (db, entry) => {
    sql(
      db,
      'UPDATE claim SET accepted_by = @by, accepted_at_ms = @atMs, accepted_words = @words WHERE item_key = @key AND stage = @stage',
    ).run({ ...entry.body, atMs: entry.atMs, by: entry.actor })
    touchItem(db, entry.body.key, entry.atMs)
  },
  'claim-taken-back': (db, entry) => {
    sql(db, 'DELETE FROM claim WHERE item_key = @key AND stage = @stage').run({ key: entry.body.key, stage: entry.body.stage })
    touchItem(db, entry.body.key, entry.atMs)
  },
  'item-dated': (db, entry) => {
    sql(db, 'UPDATE item SET updated_at_ms = max(created_at_ms, @updatedAtMs) WHERE key = @key').run(entry.body)
  },
  'repository-unaffected': (db, entry) => {
    const { key, repository, words } = entry.body
    if (words === null) sql(db, 'DELETE FROM item_unaffected WHERE item_key = @key AND repository = @repository').run({ key, repository })
    else
      sql(
        db,
        `INSERT INTO item_unaffected (item_key, repository, by, at_ms, words) VALUES (@key, @repository, @by, @atMs, @words)
          ON CONFLICT (item_key, repository) DO UPDATE SET by = excluded.by, at_ms = excluded.at_ms, words = excluded.words`,
      ).run({ key, repository, words, by: entry.actor, atMs: entry.atMs })
    touchItem(db, key, entry.atMs)
  },
  'follower-changed': (db, entry) => {
    const { key, personId, isOn } = entry.body
    if (isOn) sql(db, 'INSERT OR IGNORE INTO follower (item_key, person_id) VALUES (@key, @personId)').run({ key, personId })
    else sql(db, 'DELETE FROM follower WHERE item_key = @key AND person_id = @personId').run({ key, personId })
  },
}

/** How a field's value stands in its column: lists and records as JSON, claims as 0 and 1. */
function toColumn(value: unknown): string | number | null {
  if (typeof value === 'boolean') return Number(value)
  return typeof value === 'object' && value !== null ? JSON.stringify(value) : ((value ?? null) as string | number | null)
}

/** Numbers are never given twice, also when the item that had the highest has moved away. */
function noteNumber(db: Db, project: string, number: number): void {
  sql(db, 'UPDATE project SET last_number = max(last_number, @number) WHERE prefix = @project').run({ project, number })
}

/** A moved item takes everything along; its old key stays as an alias. Links keep their meaning, so their identities are made anew. */
function moveItem(db: Db, { key, newKey, project, number }: ItemsEvents['item-moved']): void {
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
    `INSERT INTO item_search (rowid, title, description) SELECT r.rowid, i.title, i.description FROM item_search_row r
      JOIN item i ON i.key = r.key WHERE r.key = @key`,
  ).run({ key })
}
