import type { Found, ItemCounts, OutlineEntry } from '@dystracer/core/looking/wire'
import type { ItemSummary } from '@dystracer/core/records/wire'
import type { Filter } from '@dystracer/core/filter/filter'
import { parseFilter } from '@dystracer/core/filter/parse-filter'
import { PRIORITIES } from '@dystracer/core/setup/field-use'
import { ownFieldAt, type OwnPlace } from '@dystracer/core/setup/own-field'
import type { GroupField, ItemSort } from '@dystracer/core/looking/orders'
import { STAGES } from '@dystracer/core/ladder/ladder'
import { understood } from '#platform/db/filter-parts'
import { sql } from '#platform/db/statements'
import { compileFilter, type CompiledFilter, type Driver } from './filter-sql.js'
import type { Who } from '@dystracer/core/people/who'
import { decodeCursor, pageOf } from '#platform/db/cursor'
import type { ServiceContext } from '#platform/context'
import { viewerOf } from '#subjects/people/index'
import { ITEM_COLUMNS, type ItemRow, toSummary, VISIBLE_ITEM } from '#subjects/records/index'

/** A condition that at most so many items meet is where reading starts; a list of more is read along its order until the page is full. */
const FEW = 3000
const OUTLINE_MAX = 2000
const NO_VALUE_LAST = `char(1114111)`

/**
 * The expressions of each order, ending in the key, so that pages neither repeat nor skip; and the index that holds them with all that a
 * filter looks at.
 */
const ORDER: Record<Exclude<ItemSort, 'best'>, { by: string[]; index: string }> = {
  worst: { by: ['coalesce(i.severity, 9)', '-i.created_at_ms', 'i.key'], index: 'item_worst' },
  newest: { by: ['-i.created_at_ms', 'i.key'], index: 'item_newest' },
  updated: { by: ['-i.updated_at_ms', 'i.key'], index: 'item_updated' },
  due: { by: [`coalesce(i.due_on, '9999-12-31')`, '-i.created_at_ms', 'i.key'], index: 'item_soonest' },
}
/** A column of `item` that holds a whole or broken number, as the text of that number: 3 and not 3.0. */
const numberText = (column: string) =>
  `CASE WHEN ${column} = CAST(${column} AS INTEGER) THEN CAST(CAST(${column} AS INTEGER) AS TEXT) ELSE CAST(${column} AS TEXT) END`
/** The item that `i` is a part of; null where it is none, or the asker may not see that. Of several the first by key. */
const PARENT = `(SELECT min(p.key) FROM link_assertion l JOIN item p ON p.key = l.to_id
  WHERE l.from_kind = 'item' AND l.from_id = i.key AND l.kind = 'parent' AND l.to_kind = 'item' AND l.retracted_at_ms IS NULL
    AND ${VISIBLE_ITEM.replaceAll('i.', 'p.')})`
const OWN = 'json_extract(i.own_values, @ownPath)'
const GROUP: Record<Exclude<GroupField, OwnPlace>, string> = {
  stage: 'i.stage_rank',
  severity: 'coalesce(i.severity, 9)',
  priority: `CASE i.priority ${PRIORITIES.map((priority, rank) => `WHEN '${priority}' THEN ${rank}`).join(' ')} ELSE 9 END`,
  owner: `coalesce(i.owner_id, ${NO_VALUE_LAST})`,
  component: `coalesce(i.component, ${NO_VALUE_LAST})`,
  milestone: `coalesce(i.milestone, ${NO_VALUE_LAST})`,
  sprint: `coalesce(i.sprint, ${NO_VALUE_LAST})`,
  type: 'i.type',
  // Numbers stand before the text that those without a value are given.
  points: `coalesce(i.points, ${NO_VALUE_LAST})`,
  estimate: `coalesce(i.estimate_minutes, ${NO_VALUE_LAST})`,
  parent: `coalesce(${PARENT}, ${NO_VALUE_LAST})`,
}
/** What tells the groups apart, where it is not the column of the field's own name. */
const GROUP_VALUE: Partial<Record<GroupField, string>> = {
  stage: 'i.stage_rank',
  owner: 'i.owner_id',
  points: numberText('i.points'),
  estimate: 'i.estimate_minutes',
  parent: PARENT,
}

/**
 * By what the items of a grouped list are ordered, what tells the groups apart, and the place of an
 * own field among an item's own values.
 */
function grouping(groupBy: GroupField): { order: string; value: string; bind: { ownPath?: string } } {
  const ownId = ownFieldAt(groupBy)
  if (ownId !== null)
    return {
      order: `coalesce(nullif(${OWN}, ''), ${NO_VALUE_LAST})`,
      value: `coalesce(${OWN}, '')`,
      bind: { ownPath: `$.${JSON.stringify(ownId)}` },
    }
  const field = groupBy as Exclude<GroupField, OwnPlace>
  return { order: GROUP[field], value: GROUP_VALUE[field] ?? `i.${field}`, bind: {} }
}

export interface ListItemsInput {
  /** As typed, or parsed already. */
  filter: string | Filter
  sort: ItemSort
  limit: number
  cursor?: string | undefined
  groupBy?: GroupField | undefined
  /** Values of groups whose items are left out; they count in the total. */
  folded?: readonly string[] | undefined
  withTotal?: boolean
  /** Whether each item comes with the one that it is a part of. */
  withParents?: boolean
}

interface Looked {
  compiled: CompiledFilter
  where: string
  bind: Record<string, string | number | null>
}

/** A filter as the asker's condition. Throws `filter-not-understood` with the place in the text. */
function look(ctx: Pick<ServiceContext, 'nowMs'>, who: Who, filter: string | Filter): Looked {
  const compiled = compileFilter(typeof filter === 'string' ? understood(parseFilter(filter)) : filter, {
    nowMs: ctx.nowMs(),
    personId: who.personId,
    timeZone: who.timeZone ?? null,
  })
  // Archived items, and those of archived projects, show only to those who ask for them.
  const typed = typeof filter === 'string' ? filter : ''
  const hidesProjects = typeof filter === 'string' && (who.archived ?? []).length > 0 && !/\b(?:archived|project)\b/.test(typed)
  const where = [
    compiled.where,
    VISIBLE_ITEM,
    ...(/\barchived\b/.test(typed) ? [] : ['i.is_archived = 0']),
    ...(hidesProjects ? ['+i.project NOT IN (SELECT value FROM json_each(@archivedProjects))'] : []),
  ].join(' AND ')
  return {
    compiled,
    where,
    bind: { ...compiled.bind, ...viewerOf(who), ...(hidesProjects && { archivedProjects: JSON.stringify(who.archived) }) },
  }
}

/**
 * The first condition that few items meet, as a source of keys; null when there is none. Each is asked for one item more than a few, and no
 * further.
 */
function fewOf(ctx: Pick<ServiceContext, 'db'>, { compiled, bind }: Looked): string | null {
  const isFew = ({ probe, rowsPerItem }: Driver) => {
    const most = FEW * rowsPerItem
    return (
      (sql(ctx.db, `SELECT count(*) AS count FROM (SELECT 1 FROM (${probe}) LIMIT ${most + 1})`).get<{ count: number }>(bind)?.count ??
        0) <= most
    )
  }
  return compiled.drivers.find(isFew)?.keys ?? null
}

/** What the page is read from: a few items by their keys, or the index of the order. */
function sourceOf(ctx: Pick<ServiceContext, 'db'>, looked: Looked, index: string): string {
  const few = fewOf(ctx, looked)
  return few === null ? `item i INDEXED BY ${index}` : `(SELECT DISTINCT key FROM (${few})) d CROSS JOIN item i ON i.key = d.key`
}

/**
 * One page of the items that a filter admits. Where one of its conditions admits few items, those are read and sorted; else the index of
 * the order is read until the page is full, so a filter that
 * much fits costs a page, and one that hardly anything fits at most one walk through that index. Throws `filter-not-understood`.
 */
export function listItems(
  ctx: ServiceContext,
  who: Who,
  input: ListItemsInput,
): { rows: ItemSummary[]; nextCursor: string | null; total?: number } {
  const looked = look(ctx, who, input.filter)
  const ranked = input.sort === 'best' ? rankedSource(ctx, looked) : null
  const order = input.sort === 'best' ? ORDER.newest : ORDER[input.sort]
  const source = ranked ?? sourceOf(ctx, looked, input.groupBy ? ORDER.worst.index : order.index)
  const groups = input.groupBy ? grouping(input.groupBy) : null
  const by = [...(groups ? [groups.order] : []), ...(ranked ? ['h.rank'] : []), ...order.by]
  const after = decodeCursor(input.cursor, by.length)
  const place = after ? ` AND ${by[0]} >= @after0 AND (${by.join(', ')}) > (${by.map((_, at) => `@after${at}`).join(', ')})` : ''
  const names = by.map((_, at) => `o${at}`)
  const { groupBy, folded = [] } = input
  const unfolded =
    groups && folded.length > 0 ? ` AND coalesce(CAST(${groups.value} AS TEXT), '') NOT IN (SELECT value FROM json_each(@folded))` : ''
  const rows = sql(
    ctx.db,
    `SELECT ${ITEM_COLUMNS}, ${names.map((name) => `p.${name}`).join(', ')} FROM (
      SELECT i.key AS key, ${by.map((expression, at) => `${expression} AS o${at}`).join(', ')} FROM ${source}
      WHERE ${looked.where}${unfolded}${place} ORDER BY ${by.join(', ')} LIMIT @limit
    ) p CROSS JOIN item i ON i.key = p.key ORDER BY ${names.map((name) => `p.${name}`).join(', ')}`,
  ).all<ItemRow & Record<string, string | number>>({
    ...looked.bind,
    ...groups?.bind,
    limit: input.limit + 1,
    ...(unfolded !== '' && {
      folded: JSON.stringify(groupBy === 'stage' ? folded.map((stage) => String((STAGES as readonly string[]).indexOf(stage))) : folded),
    }),
    ...(after && Object.fromEntries(after.map((value, at) => [`after${at}`, value]))),
  })
  const page = pageOf(rows, input.limit, toSummary, (row) => names.map((name) => row[name] ?? ''))
  if (input.withParents || groupBy === 'parent') addParents(ctx, who, page.rows)
  return input.withTotal === false ? page : { ...page, total: countTotal(ctx, looked) }
}

/** Gives each of some items the one that it is a part of, as far as the asker may see it. */
function addParents(ctx: ServiceContext, who: Who, items: ItemSummary[]): void {
  const rows = sql(ctx.db, `SELECT i.key, ${PARENT} AS parent FROM json_each(@keys) k JOIN item i ON i.key = k.value`).all<{
    key: string
    parent: string | null
  }>({ keys: JSON.stringify(items.map((item) => item.key)), ...viewerOf(who) })
  const parentByKey = new Map(rows.map((row) => [row.key, row.parent]))
  for (const item of items) item.parentKey = parentByKey.get(item.key) ?? null
}

/**
 * Items by how well they fit the filter's words: BM25 (Robertson and Zaragoza, 2009) over title and description, the title counting six
 * times, or over the comment that fits best at a lower weight.
 * Only words that few items hold are ranked by; null when all are common, where the newest come first instead.
 */
function rankedSource(ctx: ServiceContext, looked: Looked): string | null {
  const matches = looked.compiled.matches.filter(
    (match) =>
      (sql(
        ctx.db,
        `SELECT count(*) AS count FROM (SELECT 1 FROM (SELECT rowid FROM item_search WHERE item_search MATCH ${match}
          UNION ALL SELECT rowid FROM comment_search WHERE comment_search MATCH ${match}) LIMIT ${3 * FEW + 1})`,
      ).get<{ count: number }>(looked.bind)?.count ?? 0) <=
      3 * FEW,
  )
  if (matches.length === 0) return null
  const hits = matches.flatMap((match) => [
    `SELECT rowid AS row, bm25(item_search, 6, 1) AS rank FROM item_search WHERE item_search MATCH ${match}`,
    `SELECT rowid >> 20 AS row, bm25(comment_search) * 0.5 AS rank FROM comment_search WHERE comment_search MATCH ${match}`,
  ])
  return `(SELECT row, min(rank) AS rank FROM (${hits.join(' UNION ALL ')}) GROUP BY row) h
    CROSS JOIN item_search_row r ON r.rowid = h.row CROSS JOIN item i ON i.key = r.key`
}

function countTotal(ctx: ServiceContext, looked: Looked): number {
  return (
    sql(ctx.db, `SELECT count(*) AS count FROM ${sourceOf(ctx, looked, ORDER.newest.index)} WHERE ${looked.where}`).get<{ count: number }>(
      looked.bind,
    )?.count ?? 0
  )
}

/** How many items a filter admits, in all and by group; the groups in the order in which a grouped list shows them. */
export function countItems(
  ctx: ServiceContext,
  who: Who,
  { filter, groupBy }: { filter: string; groupBy?: GroupField | undefined },
): ItemCounts {
  const looked = look(ctx, who, filter)
  if (groupBy === undefined) return { total: countTotal(ctx, looked), groups: [] }
  const { order, value, bind } = grouping(groupBy)
  const groups = sql(
    ctx.db,
    `SELECT ${value} AS value, count(*) AS count FROM ${sourceOf(ctx, looked, ORDER.worst.index)}
      WHERE ${looked.where} GROUP BY ${value} ORDER BY ${order} LIMIT 2000`,
  )
    .all<{ value: string | number | null; count: number }>({ ...looked.bind, ...bind })
    .map((row) => ({ value: groupBy === 'stage' ? (STAGES[Number(row.value)] ?? '') : String(row.value ?? ''), count: row.count }))
  return { total: groups.reduce((sum, group) => sum + group.count, 0), groups }
}

const BEGIN = '\u0002'
const END = '\u0003'

/**
 * Where the words of a filter stand in some items: the title with them marked, and the piece of the description or of a comment that holds
 * them.
 */
export function findExcerpts(ctx: ServiceContext, who: Who, { filter, keys }: { filter: string | Filter; keys: string[] }): Found[] {
  const looked = look(ctx, who, filter)
  if (looked.compiled.match === null) return []
  const { match } = looked.compiled
  return sql(
    ctx.db,
    `SELECT r.rowid AS row, r.key FROM json_each(@keys) k JOIN item_search_row r ON r.key = k.value
      JOIN item i ON i.key = r.key WHERE ${VISIBLE_ITEM}`,
  )
    .all<{ row: number; key: string }>({ keys: JSON.stringify(keys), ...viewerOf(who) })
    .flatMap(({ row, key }): Found[] => {
      // Beside MATCH, FTS5 passes over an equal row number that is bound; a range of one it heeds.
      const own = sql(
        ctx.db,
        `SELECT highlight(item_search, 0, @begin, @end) AS title, snippet(item_search, 1, @begin, @end, '…', 14) AS text
        FROM item_search WHERE item_search MATCH @match AND rowid BETWEEN @row AND @row`,
      ).get<{ title: string; text: string }>({ match, row, begin: BEGIN, end: END })
      if (own?.text.includes(BEGIN)) return [{ key, title: marked(own.title), excerpt: marked(own.text), place: 'description' }]
      if (own) return [{ key, title: marked(own.title), excerpt: null, place: 'title' }]
      const comment = sql(
        ctx.db,
        `SELECT snippet(comment_search, 0, @begin, @end, '…', 14) AS text
        FROM comment_search WHERE comment_search MATCH @match AND rowid >= @row << 20 AND rowid < (@row + 1) << 20
          ORDER BY rowid DESC LIMIT 1`,
      ).get<{ text: string }>({ match, row, begin: BEGIN, end: END })
      return comment ? [{ key, title: [], excerpt: marked(comment.text), place: 'comment' }] : []
    })
}

/** A text with marks as its pieces; at odd places what was looked for. */
function marked(text: string): string[] {
  return text.replaceAll(/\s+/g, ' ').split(new RegExp(`[${BEGIN}${END}]`))
}

/**
 * The items that a filter admits, at most 2,000, each with the item that it is a part of; parents that the filter leaves out come along,
 * marked. Only what the asker may see.
 */
export function readOutline(
  ctx: ServiceContext,
  who: Who,
  { filter, sort }: { filter: string; sort: ItemSort },
): { rows: OutlineEntry[]; total: number } {
  const { rows, total } = listItems(ctx, who, { filter, sort, limit: OUTLINE_MAX, withParents: true })
  const parentByKey = new Map<string, string>()
  let asked = rows.map((item) => item.key)
  // One statement for each level upwards.
  for (let depth = 0; depth < 20 && asked.length > 0; depth++) {
    const found = sql(
      ctx.db,
      `SELECT l.from_id, l.to_id FROM json_each(@keys) k
        JOIN link_assertion l ON l.from_kind = 'item' AND l.from_id = k.value AND l.kind = 'parent'
        AND l.retracted_at_ms IS NULL
      WHERE l.to_kind = 'item' ORDER BY l.from_id, l.at_ms, l.to_id`,
    ).all<{ from_id: string; to_id: string }>({ keys: JSON.stringify(asked) })
    const fresh = new Set<string>()
    for (const link of found)
      if (!parentByKey.has(link.from_id)) {
        parentByKey.set(link.from_id, link.to_id)
        if (!parentByKey.has(link.to_id)) fresh.add(link.to_id)
      }
    asked = [...fresh]
  }
  const admitted = new Set(rows.map((item) => item.key))
  const contextKeys = [...new Set(parentByKey.values())].filter((key) => !admitted.has(key))
  const context = sql(
    ctx.db,
    `SELECT ${ITEM_COLUMNS} FROM json_each(@keys) k JOIN item i ON i.key = k.value WHERE ${VISIBLE_ITEM} ORDER BY i.key`,
  )
    .all<ItemRow>({ keys: JSON.stringify(contextKeys), ...viewerOf(who) })
    .map(toSummary)
  addParents(ctx, who, context)
  const seen = new Set([...admitted, ...context.map((item) => item.key)])
  const entry = (item: ItemSummary, isContext: boolean): OutlineEntry => {
    const parent = parentByKey.get(item.key)
    return { item, parentKey: parent !== undefined && seen.has(parent) ? parent : null, isContext }
  }
  return { rows: [...rows.map((item) => entry(item, false)), ...context.map((item) => entry(item, true))], total: total ?? rows.length }
}

/**
 * Items by words as they are typed, best first, with the words marked: each word may be a beginning, and may stand in the title, the
 * description or a comment.
 */
export function searchItems(ctx: ServiceContext, who: Who, q: string, limit: number): (ItemSummary & { marked: Found | null })[] {
  const parts = (q.match(/[\p{L}\p{N}]+/gu) ?? []).slice(0, 12).map((text): Filter => ({ kind: 'words', text, isPhrase: false }))
  if (parts.length === 0) return []
  const filter: Filter = { kind: 'and', parts }
  const { rows } = listItems(ctx, who, { filter, sort: 'best', limit, withTotal: false })
  const found = findExcerpts(ctx, who, { filter, keys: rows.map((item) => item.key) })
  return rows.map((item) => ({ ...item, marked: found.find((entry) => entry.key === item.key) ?? null }))
}
