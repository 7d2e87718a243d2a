import { BOARD_FIELDS, type BoardField } from '#board/board'
import { ownFieldAt, placeNamed, type OwnPlace } from '#setup/own-field'
import { parseValues, printValues } from './value-list.js'
import { GROUP_FIELDS, ITEM_SORTS, type GroupField, type ItemSort } from './orders.js'

/** The columns that a list of items can show, in the order in which they are offered. */
export const ITEM_COLUMNS_SHOWN = [
  'severity',
  'priority',
  'type',
  'component',
  'milestone',
  'sprint',
  'points',
  'estimate',
  'labels',
  'parent',
  'due',
  'updated',
  'stair',
  'owner',
] as const
/** A column that a list of items can show; an own field by its place. */
export type ItemColumn = (typeof ITEM_COLUMNS_SHOWN)[number] | OwnPlace
/** Own fields stand before these. */
const OWN_STAND_BEFORE: ReadonlySet<ItemColumn> = new Set(['due', 'updated', 'stair', 'owner'])
/** The columns of a list that nobody has arranged. */
export const COLUMNS_DEFAULT: readonly ItemColumn[] = ['severity', 'stair', 'owner']
/** Ways of looking at the same items; each is a pane of this name. */
export const LAYOUTS = ['items', 'board', 'calendar', 'outline'] as const
/** In which form a set of items is shown. */
export type Layout = (typeof LAYOUTS)[number]
/** Least and greatest width of a column, in px. */
export const WIDTH_PX = { least: 24, most: 480 } as const

/** What a screen of items shows, besides its layout: a filter, and what differs from the usual. A link carries all of it. */
export interface Look {
  filter: string
  sort?: ItemSort
  columns?: readonly ItemColumn[]
  /** Widths in px of the columns that were drawn wider or narrower. */
  widths?: Readonly<Partial<Record<ItemColumn, number>>>
  groupBy?: GroupField
  /** The groups that are folded, by their values; an empty one is the group of those without. */
  folded?: readonly string[]
  /** What the columns and the lanes of a board stand for. */
  cards?: BoardField
  lanes?: BoardField
  /** The columns of a board that are shown, by their values and in this order; all of them where it is not said. */
  values?: readonly string[]
  /** The month that a calendar shows, `YYYY-MM`. */
  month?: string
}

const FILTER_DEFAULT = 'open'

/**
 * A look as the id of a pane in the address: the filter, and behind a question mark what differs from the usual. Nothing at all stands for
 * open items, `*` for all.
 * @example printLook({ filter: 'open', groupBy: 'owner' }) // 'open?group=owner'
 */
export function printLook(look: Look): string {
  const more = new URLSearchParams({
    ...(look.sort && { sort: look.sort }),
    ...(look.groupBy && { group: look.groupBy }),
    ...(look.groupBy && look.folded && look.folded.length > 0 && { folded: printValues(look.folded) }),
    ...(look.columns && { show: look.columns.join(',') }),
    ...(look.widths &&
      Object.keys(look.widths).length > 0 && {
        wide: Object.entries(look.widths)
          .map(([column, px]) => `${column}:${px}`)
          .join(','),
      }),
    ...(look.cards && { cards: look.cards }),
    ...(look.lanes && { lanes: look.lanes }),
    ...(look.values && look.values.length > 0 && { values: printValues(look.values) }),
    ...(look.month && { month: look.month }),
  }).toString()
  if (more === '' && look.filter === FILTER_DEFAULT) return ''
  return `${look.filter === '' ? '*' : look.filter}${more === '' ? '' : `?${more}`}`
}

/**
 * The look that a pane's id says; parts that make no sense are left out. A question mark that no known parts follow belongs to the filter.
 */
export function parseLook(id: string): Look {
  const at = id.lastIndexOf('?')
  const more = at < 0 ? null : partsOf(id.slice(at + 1))
  const text = more === null ? id : id.slice(0, at)
  const filter = text === '' ? FILTER_DEFAULT : text === '*' ? '' : text
  return { filter, ...more }
}

function partsOf(text: string): Omit<Look, 'filter'> | null {
  const params = new URLSearchParams(text)
  if (
    [...params.keys()].some((key) => !['sort', 'group', 'folded', 'show', 'wide', 'cards', 'lanes', 'values', 'month'].includes(key)) ||
    params.size === 0
  )
    return null
  const sort = oneOf(ITEM_SORTS, params.get('sort'))
  const groupBy = placeNamed(GROUP_FIELDS, params.get('group'))
  const folded = parseValues(params.get('folded') ?? '')
  const cards = placeNamed(BOARD_FIELDS, params.get('cards'))
  const lanes = placeNamed(BOARD_FIELDS, params.get('lanes'))
  const values = parseValues(params.get('values') ?? '')
  const month = /^\d{4}-(?:0[1-9]|1[0-2])$/.exec(params.get('month') ?? '')?.[0]
  const shown = params.get('show')?.split(',')
  const widths = widthsOf(params.get('wide') ?? '')
  return {
    ...(sort && { sort }),
    ...(groupBy && { groupBy }),
    ...(groupBy && folded.length > 0 && { folded }),
    ...(shown && { columns: columnsInOrder(shown.flatMap((name) => placeNamed(ITEM_COLUMNS_SHOWN, name) ?? [])) }),
    ...(Object.keys(widths).length > 0 && { widths }),
    ...(cards && { cards }),
    ...(lanes && { lanes }),
    ...(values.length > 0 && { values }),
    ...(month && { month }),
  }
}

/**
 * Columns in the order in which they stand, each once: what all items have as it is offered, with
 * own fields before the last dates and people.
 */
export function columnsInOrder(columns: readonly ItemColumn[]): ItemColumn[] {
  const own = [...new Set(columns.filter((column) => ownFieldAt(column) !== null))]
  const fixed = ITEM_COLUMNS_SHOWN.filter((column) => columns.includes(column))
  const at = fixed.findIndex((column) => OWN_STAND_BEFORE.has(column))
  return at < 0 ? [...fixed, ...own] : [...fixed.slice(0, at), ...own, ...fixed.slice(at)]
}

function widthsOf(text: string): Partial<Record<ItemColumn, number>> {
  const widths: Partial<Record<ItemColumn, number>> = {}
  for (const part of text.split(',')) {
    const [name = '', px = ''] = part.split(':')
    const column = placeNamed(ITEM_COLUMNS_SHOWN, name)
    if (column && /^\d{1,4}$/.test(px)) widths[column] = boundedWidth(Number(px))
  }
  return widths
}

/** A width within what a column can have, in whole px. */
export function boundedWidth(px: number): number {
  return Math.round(Math.min(WIDTH_PX.most, Math.max(WIDTH_PX.least, px)))
}

function oneOf<Value extends string>(values: readonly Value[], text: string | null): Value | undefined {
  return values.find((value) => value === text)
}
