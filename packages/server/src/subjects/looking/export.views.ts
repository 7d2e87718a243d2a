import { EXPORTED_FIELDS } from '@dystracer/core/setup/item-fields'
import { asCsv } from '#platform/csv'
import type { ItemSummary } from '@dystracer/core/records/wire'
import type { Who } from '@dystracer/core/people/who'
import { listItems, type ListItemsInput } from './looking.views.js'
import type { ServiceContext } from '#platform/context'
import { fieldOf, requireItem } from '#subjects/records/index'

const PAGE = 500
/** What an exported item holds, in this order. */
export const EXPORTED = [
  'key',
  'type',
  'title',
  'description',
  'stage',
  'disposition',
  ...EXPORTED_FIELDS.map((field) => field.exportedAs),
  'reporter',
  'createdAt',
  'updatedAt',
]
type Exported = Record<string, unknown>

/** The items that a filter admits, page by page, so that 200,000 of them need no more memory than one page. */
function* exportedItems(ctx: ServiceContext, who: Who, input: Pick<ListItemsInput, 'filter' | 'sort'>): Generator<Exported[]> {
  let cursor: string | undefined
  do {
    const page = listItems(ctx, who, { ...input, limit: PAGE, withTotal: false, ...(cursor !== undefined && { cursor }) })
    yield page.rows.map((item) => toExported(ctx, item))
    cursor = page.nextCursor ?? undefined
  } while (cursor !== undefined)
}

function toExported(ctx: ServiceContext, item: ItemSummary): Exported {
  const row = requireItem(ctx, item.key)
  return {
    key: item.key,
    type: item.type,
    title: item.title,
    description: row.description,
    stage: item.stage,
    disposition: item.disposition,
    ...Object.fromEntries(EXPORTED_FIELDS.map(({ name, exportedAs }) => [exportedAs, fieldOf(row, name)])),
    reporter: row.reporter_id,
    createdAt: new Date(item.createdAtMs).toISOString(),
    updatedAt: new Date(item.updatedAtMs).toISOString(),
  }
}

/** Items as CSV (RFC 4180), a head line first; cells that a spreadsheet would take for a formula are defused. */
export function* itemsAsCsv(ctx: ServiceContext, who: Who, input: Pick<ListItemsInput, 'filter' | 'sort'>): Generator<string> {
  let isFirst = true
  for (const rows of exportedItems(ctx, who, input)) {
    const data = rows.map((row) => ({ ...row, labels: (row.labels as string[]).join(', ') }))
    const text = asCsv(EXPORTED, data, { hasHead: isFirst })
    if (text !== '') yield text
    isFirst = false
  }
}

/** Items as JSON Lines: one object a line. */
export function* itemsAsJsonLines(ctx: ServiceContext, who: Who, input: Pick<ListItemsInput, 'filter' | 'sort'>): Generator<string> {
  for (const rows of exportedItems(ctx, who, input)) if (rows.length > 0) yield `${rows.map((row) => JSON.stringify(row)).join('\n')}\n`
}
