import { proposeBranchName } from '@dystracer/core/text/branch-name'
import { STAGES, type Ladder, type Stage } from '@dystracer/core/ladder/ladder'
import type { ItemSummary, Link } from '@dystracer/core/records/wire'
import type { Item } from '@dystracer/core/items/wire'
import type { Priority } from '@dystracer/core/setup/field-use'
import type { Classification } from '@dystracer/core/setup/item-type'
import type { ItemType } from '@dystracer/core/setup/item-type'
import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'

export interface ItemRow {
  key: string
  type: ItemType
  title: string
  description: string
  severity: number | null
  owner_id: string | null
  reporter_id: string | null
  component: string | null
  milestone: string | null
  labels: string
  due_on: string | null
  found_in: string | null
  estimate_minutes: number | null
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
  priority: Priority | null
  co_owner_ids: string
  sprint: string | null
  points: number | null
  planned_for: string | null
  classification: string | null
  own_values: string
  is_confidential: number
  named_ids: string
  is_archived: number
  came_from: string | null
  is_blocked: number
}
/** Whether an open item stands in the way: it says that it blocks this one. */
export const IS_BLOCKED = `EXISTS (SELECT 1 FROM link_assertion l JOIN item o ON o.key = l.from_id AND o.is_open = 1
    WHERE l.to_kind = 'item' AND l.to_id = i.key AND l.kind = 'blocks' AND l.retracted_at_ms IS NULL)`
export const ITEM_COLUMNS = `i.key, i.type, i.title, i.description, i.severity, i.owner_id, i.reporter_id, i.component, i.milestone, i.labels, i.due_on, i.found_in, i.estimate_minutes, i.fault, i.logged_cause,
  i.created_at_ms, i.updated_at_ms, i.revision, i.stage, i.stair, i.ladder, i.has_come_back, i.has_drift, i.disposition,
  i.project, i.priority, i.co_owner_ids, i.sprint, i.points, i.planned_for, i.classification, i.own_values, i.is_confidential, i.named_ids, i.is_archived, i.came_from,
  ${IS_BLOCKED} AS is_blocked`

export function getItem(db: Db, key: string): ItemRow | undefined {
  return sql(db, `SELECT ${ITEM_COLUMNS} FROM item i WHERE i.key = @key`).get<ItemRow>({ key })
}

export function listItemsByKeys(db: Db, keys: readonly string[]): ItemSummary[] {
  return sql(db, `SELECT ${ITEM_COLUMNS} FROM json_each(@keys) k JOIN item i ON i.key = k.value ORDER BY k.key`)
    .all<ItemRow>({ keys: JSON.stringify(keys) })
    .map(toSummary)
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
    coOwnerIds: JSON.parse(row.co_owner_ids) as string[],
    dueOn: row.due_on,
    isConfidential: row.is_confidential === 1,
    isArchived: row.is_archived === 1,
    isBlocked: row.is_blocked === 1,
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
    description: row.description,
    reporterId: row.reporter_id,
    cameFrom: row.came_from,
    points: row.points,
    plannedFor: row.planned_for,
    classification: row.classification === null ? null : (JSON.parse(row.classification) as Classification),
    ownValues: JSON.parse(row.own_values) as Item['ownValues'],
    namedIds: JSON.parse(row.named_ids) as string[],
    followerIds: names(db, 'SELECT person_id AS name FROM follower WHERE item_key = @key ORDER BY person_id', row.key),
    children: listItemsByKeys(
      db,
      names(
        db,
        `SELECT DISTINCT from_id AS name FROM link_assertion WHERE to_kind = 'item' AND to_id = @key AND kind = 'parent' AND from_kind = 'item' AND retracted_at_ms IS NULL ORDER BY from_id LIMIT 500`,
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
    mergedInto: sql(db, 'SELECT into_key FROM item_merge WHERE item_key = @key').get<{ into_key: string }>({ key: row.key })?.into_key ?? null,
    asked:
      sql(
        db,
        'SELECT asked_words AS words, asked_by AS "by", asked_until_ms AS untilMs FROM item WHERE key = @key AND asked_until_ms IS NOT NULL',
      ).get<{ words: string; by: string; untilMs: number }>({ key: row.key }) ?? null,
    aliases: names(db, 'SELECT alias AS name FROM key_alias WHERE key = @key ORDER BY alias', row.key),
    foundIn: row.found_in,
    estimateMinutes: row.estimate_minutes,
    spentMinutes: spent,
    ladder: row.ladder ? (JSON.parse(row.ladder) as Ladder) : EMPTY_LADDER,
    links,
    proposedBranch: proposeBranchName(row),
    proposedRepository: component?.repository ?? null,
  }
}
