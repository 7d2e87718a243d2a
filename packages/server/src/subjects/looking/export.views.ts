import { EXPORTED_FIELDS } from '@dystracer/core/setup/item-fields'
import { asCsv } from '#platform/csv'
import type { ItemSummary } from '@dystracer/core/records/wire'
import type { Who } from '@dystracer/core/people/who'
import { listItems, type ListItemsInput } from './looking.views.js'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { viewerOf } from '#subjects/people/index'
import { GET_SPENT_MINUTES, LIST_COMMENTS_TO_EXPORT, LIST_OWN_FIELD_IDS } from './export.queries.js'
import { fieldOf, listAssertions, mayReadThing, maySee, requireItem } from '#subjects/records/index'

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
  'parent',
  'blocks',
  'sameAs',
  'seeAlso',
  'requirements',
  'spentMinutes',
  'createdAt',
  'updatedAt',
]
/** What an item hangs on, by the names in an export. */
const TIES = {
  parent: ['parent'],
  blocks: ['blocks'],
  sameAs: ['same-as'],
  seeAlso: ['see-also'],
  requirements: ['implements', 'breaks'],
} as const
type Exported = Record<string, unknown>

/** The items that a filter admits, page by page, so that 200,000 of them need no more memory than one page. */
function* exportedItems(ctx: ServiceContext, who: Who, input: Pick<ListItemsInput, 'filter' | 'sort'>): Generator<Exported[]> {
  let cursor: string | undefined
  do {
    const page = listItems(ctx, who, { ...input, limit: PAGE, withTotal: false, ...(cursor !== undefined && { cursor }) })
    yield page.rows.map((item) => toExported(ctx, who, item))
    cursor = page.nextCursor ?? undefined
  } while (cursor !== undefined)
}

function toExported(ctx: ServiceContext, who: Who, item: ItemSummary): Exported {
  const row = requireItem(ctx, item.key)
  const links = listAssertions(ctx.db, { kind: 'item', id: item.key }).filter(
    ({ from_kind, from_id, to_kind, to_id }) =>
      from_kind === 'item' &&
      from_id === item.key &&
      // A key that the asker may not see is not told by what hangs on it.
      (to_kind === 'item'
        ? maySee(ctx.db, who, to_id)
        : to_kind === 'requirement' && mayReadThing(ctx.db, who, { kind: to_kind, id: to_id })),
  )
  return {
    key: item.key,
    type: item.type,
    title: item.title,
    description: row.description,
    stage: item.stage,
    disposition: item.disposition,
    ...Object.fromEntries(EXPORTED_FIELDS.map(({ name, exportedAs }) => [exportedAs, fieldOf(row, name)])),
    ...Object.fromEntries(Object.entries(item.ownValues).map(([fieldId, value]) => [`own.${fieldId}`, value])),
    reporter: row.reporter_id ?? row.came_from,
    ...Object.fromEntries(
      Object.entries(TIES).map(([name, kinds]) => [
        name,
        [...new Set(links.filter(({ kind }) => (kinds as readonly string[]).includes(kind)).map(({ to_id }) => to_id))],
      ]),
    ),
    spentMinutes: sql(ctx.db, GET_SPENT_MINUTES).get<{ minutes: number }>({ key: item.key })?.minutes ?? 0,
    createdAt: new Date(item.createdAtMs).toISOString(),
    updatedAt: new Date(item.updatedAtMs).toISOString(),
  }
}

/** What was said about an item, oldest first; who said it by their name here, or as it came from outside. */
function commentsOf(ctx: ServiceContext, key: string): { text: string; by: string; at: string }[] {
  return sql(ctx.db, LIST_COMMENTS_TO_EXPORT)
    .all<{ text: string; by: string; atMs: number }>({ key })
    .map(({ text, by, atMs }) => ({ text, by: by.replace(/^person:/, ''), at: new Date(atMs).toISOString() }))
}

/** The columns of a table of items: those that every item has, and the own fields of the projects that the asker reads. */
function columnsFor(ctx: ServiceContext, who: Who): string[] {
  const { readable, readsAll } = viewerOf(who)
  const own = sql(ctx.db, LIST_OWN_FIELD_IDS).all<{ fieldId: string }>({ readable, readsAll })
  return [...EXPORTED, ...own.map(({ fieldId }) => `own.${fieldId}`)]
}

/** Items as CSV (RFC 4180), a head line first; cells that a spreadsheet would take for a formula are defused. */
export function* itemsAsCsv(ctx: ServiceContext, who: Who, input: Pick<ListItemsInput, 'filter' | 'sort'>): Generator<string> {
  const columns = columnsFor(ctx, who)
  let isFirst = true
  for (const rows of exportedItems(ctx, who, input)) {
    const data = rows.map((row) =>
      Object.fromEntries(Object.entries(row).map(([name, value]) => [name, Array.isArray(value) ? value.join(', ') : value])),
    )
    const text = asCsv(columns, data, { hasHead: isFirst })
    if (text !== '') yield text
    isFirst = false
  }
}

/** Items as JSON Lines: one object a line, with what was said about it. */
export function* itemsAsJsonLines(ctx: ServiceContext, who: Who, input: Pick<ListItemsInput, 'filter' | 'sort'>): Generator<string> {
  for (const rows of exportedItems(ctx, who, input))
    if (rows.length > 0) yield rows.map((row) => `${JSON.stringify({ ...row, comments: commentsOf(ctx, String(row.key)) })}\n`).join('')
}
