import { proposeBranchName } from '@dystracer/core/text/branch-name'
import { STAGES, type Ladder, type Stage } from '@dystracer/core/ladder/ladder'
import type { ItemSummary, Item, Link } from '@dystracer/core/contract/items'
import type { ItemType } from '@dystracer/core/filter/filter'
import { sql } from '../db/statements.js'
import type { Db } from '../db/open.js'

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
}
export const ITEM_COLUMNS = `i.key, i.type, i.title, i.description, i.severity, i.owner_id, i.reporter_id, i.component, i.milestone, i.labels, i.due_on, i.found_in, i.estimate_minutes, i.fault, i.logged_cause,
  i.created_at_ms, i.updated_at_ms, i.revision, i.stage, i.stair, i.ladder, i.has_come_back, i.has_drift, i.disposition`

export function getItem(db: Db, key: string): ItemRow | undefined {
  return sql<object, ItemRow>(db, `SELECT ${ITEM_COLUMNS} FROM item i WHERE i.key = @key`).get({ key })
}

export function listItemsByKeys(db: Db, keys: readonly string[]): ItemSummary[] {
  return sql<object, ItemRow>(db, `SELECT ${ITEM_COLUMNS} FROM json_each(@keys) k JOIN item i ON i.key = k.value ORDER BY k.key`)
    .all({ keys: JSON.stringify(keys) })
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

export function toItem(db: Db, row: ItemRow, links: Link[]): Item {
  const spent =
    sql<object, { minutes: number }>(db, 'SELECT coalesce(sum(minutes), 0) AS minutes FROM time_entry WHERE item_key = @key').get({ key: row.key })
      ?.minutes ?? 0
  const component = sql<object, { repository: string | null }>(db, 'SELECT repository FROM component WHERE name = @name').get({
    name: row.component ?? '',
  })
  return {
    ...toSummary(row),
    description: row.description,
    reporterId: row.reporter_id,
    dueOn: row.due_on,
    foundIn: row.found_in,
    estimateMinutes: row.estimate_minutes,
    spentMinutes: spent,
    ladder: row.ladder ? (JSON.parse(row.ladder) as Ladder) : EMPTY_LADDER,
    links,
    proposedBranch: proposeBranchName(row),
    proposedRepository: component?.repository ?? null,
  }
}
