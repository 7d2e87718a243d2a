import type { ItemFields } from '@dystracer/core/records/events'
import { ITEM_FIELDS, type FieldKind, type FieldValues, type ItemFieldName } from '@dystracer/core/setup/item-fields'
import { proposeBranchName } from '@dystracer/core/text/branch-name'
import { STAGES, type Ladder, type Stage } from '@dystracer/core/ladder/ladder'
import type { ItemSummary, Link } from '@dystracer/core/records/wire'
import type { Item } from '@dystracer/core/items/wire'
import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'

/** How a value of each kind stands in its column. */
type Stored<Kind extends FieldKind> = Kind extends 'people' | 'labels' | 'ownValues'
  ? string
  : Kind extends 'classification'
    ? string | null
    : Kind extends 'flag'
      ? number
      : FieldValues[Kind]
type FieldColumns = { [Name in ItemFieldName as (typeof ITEM_FIELDS)[Name]['column']]: Stored<(typeof ITEM_FIELDS)[Name]['kind']> }

/** One row of `item`: the declared fields' columns and what every item is. */
export interface ItemRow extends FieldColumns {
  key: string
  reporter_id: string | null
  fault: string | null
  logged_cause: string
  created_at_ms: number
  updated_at_ms: number
  revision: number
  stage: Stage
  stair: string
  ladder: string | null
  has_come_back: number
  has_drift: number
  disposition: ItemSummary['disposition']
  project: string
  came_from: string | null
  is_blocked: number
}
/** Whether an open item stands in the way: it says that it blocks this one. */
export const IS_BLOCKED = `EXISTS (SELECT 1 FROM link_assertion l JOIN item o ON o.key = l.from_id AND o.is_open = 1
    WHERE l.to_kind = 'item' AND l.to_id = i.key AND l.kind = 'blocks' AND l.retracted_at_ms IS NULL)`
const FIELD_COLUMNS = Object.values(ITEM_FIELDS)
  .map(({ column }) => `i.${column}`)
  .join(', ')
export const ITEM_COLUMNS = `i.key, ${FIELD_COLUMNS}, i.reporter_id, i.fault, i.logged_cause, i.created_at_ms, i.updated_at_ms, i.revision,
  i.stage, i.stair, i.ladder, i.has_come_back, i.has_drift, i.disposition, i.project, i.came_from, ${IS_BLOCKED} AS is_blocked`

export function getItem(db: Db, key: string): ItemRow | undefined {
  return sql(db, `SELECT ${ITEM_COLUMNS} FROM item i WHERE i.key = @key`).get<ItemRow>({ key })
}

export function listItemsByKeys(db: Db, keys: readonly string[]): ItemSummary[] {
  return sql(db, `SELECT ${ITEM_COLUMNS} FROM json_each(@keys) k JOIN item i ON i.key = k.value ORDER BY k.key`)
    .all<ItemRow>({ keys: JSON.stringify(keys) })
    .map(toSummary)
}

/** How a value stands in its column: lists and records as JSON, flags as 0 and 1. */
function readColumn(kind: FieldKind, stored: unknown): unknown {
  if (kind === 'flag') return stored === 1
  return AS_JSON.has(kind) && typeof stored === 'string' ? JSON.parse(stored) : stored
}
const AS_JSON = new Set<FieldKind>(['people', 'labels', 'classification', 'ownValues'])

/** What one field of an item holds now. */
export function fieldOf<Name extends ItemFieldName>(row: ItemRow, name: Name): ItemFields[Name] {
  const { kind, column } = ITEM_FIELDS[name]
  return readColumn(kind, row[column]) as ItemFields[Name]
}

/** What all fields of an item hold now; for a few of them `fieldOf` reads less. */
export function fieldsOf(row: ItemRow): ItemFields {
  return Object.fromEntries(
    (Object.keys(ITEM_FIELDS) as ItemFieldName[]).map((name) => [name, fieldOf(row, name)]),
  ) as unknown as ItemFields
}

export function toSummary(row: ItemRow): ItemSummary {
  return {
    key: row.key,
    title: row.title,
    type: row.type,
    severity: row.severity,
    ownerId: row.owner_id,
    component: row.component,
    milestone: row.milestone,
    labels: JSON.parse(row.labels) as string[],
    stage: row.stage,
    stair: row.stair,
    hasComeBack: row.has_come_back === 1,
    disposition: row.disposition,
    hasDrift: row.has_drift === 1,
    project: row.project,
    priority: row.priority,
    sprint: row.sprint,
    points: row.points,
    estimateMinutes: row.estimate_minutes,
    coOwnerIds: JSON.parse(row.co_owner_ids) as string[],
    dueOn: row.due_on,
    isConfidential: row.is_confidential === 1,
    isArchived: row.is_archived === 1,
    isBlocked: row.is_blocked === 1,
    ownValues: JSON.parse(row.own_values) as ItemSummary['ownValues'],
    createdAtMs: row.created_at_ms,
    updatedAtMs: row.updated_at_ms,
    revision: row.revision,
  }
}

const EMPTY_LADDER: Ladder = {
  stage: 'logged',
  treads: STAGES.map((stage) => ({ stage, state: 'waiting', evidence: [] })),
  hasComeBack: false,
  disposition: null,
  drift: [],
}

function names(db: Db, text: string, key: string): string[] {
  return sql(db, text)
    .all<{ name: string }>({ key })
    .map((row) => row.name)
}

export function toItem(db: Db, row: ItemRow, links: Link[]): Item {
  const spent =
    sql(db, 'SELECT coalesce(sum(minutes), 0) AS minutes FROM time_entry WHERE item_key = @key AND taken_back_at_ms IS NULL').get<{
      minutes: number
    }>({ key: row.key })?.minutes ?? 0
  const component = sql(db, 'SELECT repository, keeper_id FROM component WHERE name = @name').get<{
    repository: string | null
    keeper_id: string | null
  }>({
    name: row.component ?? '',
  })
  return {
    ...toSummary(row),
    ...fieldsOf(row),
    reporterId: row.reporter_id,
    cameFrom: row.came_from,
    followerIds: names(db, 'SELECT person_id AS name FROM follower WHERE item_key = @key ORDER BY person_id', row.key),
    children: listItemsByKeys(
      db,
      names(
        db,
        `SELECT DISTINCT from_id AS name FROM link_assertion
          WHERE to_kind = 'item' AND to_id = @key AND kind = 'parent' AND from_kind = 'item'
          AND retracted_at_ms IS NULL ORDER BY from_id LIMIT 500`,
        row.key,
      ),
    ),
    blockedBy: names(
      db,
      `SELECT DISTINCT l.from_id AS name FROM link_assertion l JOIN item o ON o.key = l.from_id AND o.is_open = 1
      WHERE l.to_kind = 'item' AND l.to_id = @key AND l.kind = 'blocks' AND l.retracted_at_ms IS NULL ORDER BY l.from_id`,
      row.key,
    ),
    keeperId: component?.keeper_id ?? null,
    mergedInto:
      sql(db, 'SELECT into_key FROM item_merge WHERE item_key = @key').get<{ into_key: string }>({ key: row.key })?.into_key ?? null,
    asked:
      sql(
        db,
        `SELECT asked_words AS words, asked_by AS "by", asked_until_ms AS untilMs FROM item
          WHERE key = @key AND asked_until_ms IS NOT NULL`,
      ).get<{ words: string; by: string; untilMs: number }>({ key: row.key }) ?? null,
    aliases: names(db, 'SELECT alias AS name FROM key_alias WHERE key = @key ORDER BY alias', row.key),
    spentMinutes: spent,
    ladder: row.ladder ? (JSON.parse(row.ladder) as Ladder) : EMPTY_LADDER,
    links,
    proposedBranch: proposeBranchName(row),
    proposedRepository: component?.repository ?? null,
  }
}
