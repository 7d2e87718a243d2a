import type { ChangeItem } from '@dystracer/core/items/wire'
import type { Classification } from '@dystracer/core/setup/item-type'
import type { OwnValue } from '@dystracer/core/setup/own-field'
import { sql } from '#platform/db/statements'
import type { FieldChanges, ItemFields } from '@dystracer/core/records/events'
import type { ItemRow } from './item-row.queries.js'
import type { ServiceContext } from '#platform/context'
import { GET_TO_ID_OF_LINK_ASSERTION_BY_KEY } from './item-changes.queries.js'

const FIELD_OF_ROW: { [Field in keyof ItemFields]: (row: ItemRow) => ItemFields[Field] } = {
  title: (row) => row.title,
  description: (row) => row.description,
  severity: (row) => row.severity,
  ownerId: (row) => row.owner_id,
  component: (row) => row.component,
  milestone: (row) => row.milestone,
  labels: (row) => JSON.parse(row.labels) as string[],
  dueOn: (row) => row.due_on,
  estimateMinutes: (row) => row.estimate_minutes,
  type: (row) => row.type,
  priority: (row) => row.priority,
  coOwnerIds: (row) => JSON.parse(row.co_owner_ids) as string[],
  sprint: (row) => row.sprint,
  points: (row) => row.points,
  foundIn: (row) => row.found_in,
  plannedFor: (row) => row.planned_for,
  classification: (row) => (row.classification === null ? null : (JSON.parse(row.classification) as Classification)),
  ownValues: (row) => JSON.parse(row.own_values) as Record<string, OwnValue>,
  isConfidential: (row) => row.is_confidential === 1,
  namedIds: (row) => JSON.parse(row.named_ids) as string[],
  isArchived: (row) => row.is_archived === 1,
}

/** What an item holds, by the names that types and stage rules use. */
export function valuesOfRow(
  ctx: Pick<ServiceContext, 'db'>,
  row: ItemRow,
  wanted: Partial<ItemFields> & { requirement?: string | null } = {},
): Record<string, unknown> {
  const requirement = sql(ctx.db, GET_TO_ID_OF_LINK_ASSERTION_BY_KEY).get<{ to_id: string }>({ key: row.key })?.to_id
  const now = Object.fromEntries(Object.entries(FIELD_OF_ROW).map(([field, read]) => [field, read(row)])) as unknown as ItemFields
  return valuesForRules({
    ...now,
    requirement: requirement ?? null,
    ...Object.fromEntries(Object.entries(wanted).filter(([, value]) => value !== undefined && value !== null)),
  })
}

/** The fields that would change, with their values before and after. */
export function changesOf(row: ItemRow, input: Partial<ChangeItem>): FieldChanges {
  const changes: Record<string, unknown> = {}
  for (const [field, to] of Object.entries(input)) {
    const from = FIELD_OF_ROW[field as keyof ItemFields](row)
    if (to !== undefined && JSON.stringify(from) !== JSON.stringify(to)) changes[field] = { from, to }
  }
  return changes as FieldChanges
}

/** What an item's fields hold now, by field. */
export function fieldsOf(row: ItemRow): Record<keyof ItemFields, unknown> {
  return Object.fromEntries(Object.entries(FIELD_OF_ROW).map(([field, read]) => [field, read(row)])) as Record<keyof ItemFields, unknown>
}

/** Values by the names that types and stage rules use. */
export function valuesForRules(input: {
  severity?: number | null | undefined
  priority?: string | null | undefined
  ownerId?: string | null | undefined
  component?: string | null | undefined
  milestone?: string | null | undefined
  sprint?: string | null | undefined
  requirement?: string | null | undefined
  dueOn?: string | null | undefined
  points?: number | null | undefined
  estimateMinutes?: number | null | undefined
  labels?: string[] | undefined
  foundIn?: string | null | undefined
  plannedFor?: string | null | undefined
  ownValues?: Record<string, OwnValue> | undefined
}): Record<string, unknown> {
  const { ownerId, dueOn, estimateMinutes, ownValues = {}, ...rest } = input
  return {
    ...rest,
    owner: ownerId,
    due: dueOn,
    estimate: estimateMinutes,
    ...Object.fromEntries(Object.entries(ownValues).map(([name, value]) => [`own:${name}`, value])),
  }
}
