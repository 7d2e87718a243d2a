import type { ChangeItem } from '@dystracer/core/items/wire'
import { USE_BY_FIELD } from '@dystracer/core/setup/item-fields'
import { sql } from '#platform/db/statements'
import type { FieldChanges, ItemFields } from '@dystracer/core/records/events'
import { fieldOf, fieldsOf, type ItemRow } from './item-row.queries.js'
import type { ServiceContext } from '#platform/context'
import { GET_TO_ID_OF_LINK_ASSERTION_BY_KEY } from './item-changes.queries.js'

/** What an item holds, by the names that types and stage rules use. */
export function valuesOfRow(
  ctx: Pick<ServiceContext, 'db'>,
  row: ItemRow,
  wanted: Partial<ItemFields> & { requirement?: string | null } = {},
): Record<string, unknown> {
  const requirement = sql(ctx.db, GET_TO_ID_OF_LINK_ASSERTION_BY_KEY).get<{ to_id: string }>({ key: row.key })?.to_id
  return valuesForRules({
    ...fieldsOf(row),
    requirement: requirement ?? null,
    ...Object.fromEntries(Object.entries(wanted).filter(([, value]) => value !== undefined && value !== null)),
  })
}

/** The fields that would change, with their values before and after. */
export function changesOf(row: ItemRow, input: Partial<ChangeItem>): FieldChanges {
  const changes: Record<string, unknown> = {}
  for (const [field, to] of Object.entries(input)) {
    const from = fieldOf(row, field as keyof ItemFields)
    if (to !== undefined && JSON.stringify(from) !== JSON.stringify(to)) changes[field] = { from, to }
  }
  return changes as FieldChanges
}

/** Values by the names that types and stage rules use. */
export function valuesForRules(input: Partial<ItemFields> & { requirement?: string | null | undefined }): Record<string, unknown> {
  return {
    requirement: input.requirement,
    ...Object.fromEntries(Object.entries(USE_BY_FIELD).map(([field, use]) => [use.name, input[field as keyof ItemFields]])),
    ...Object.fromEntries(Object.entries(input.ownValues ?? {}).map(([name, value]) => [`own:${name}`, value])),
  }
}
