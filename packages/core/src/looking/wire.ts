import { zPage, zPageQuery } from '#basics/wire'
import { BOARD_FIELDS } from '#board/board'
import { operation, outsidePath } from '#people/operation'
import { zItemSummary, zItemKey } from '#records/wire'
import { COLUMNS_DEFAULT, ITEM_COLUMNS_SHOWN, LAYOUTS, WIDTH_PX } from './look.js'
import { GROUP_FIELDS, ITEM_SORTS } from './orders.js'
import { zOwnPlace } from '#setup/own-field'
import { parseValues } from './value-list.js'
import { z } from 'zod'

const zGroupField = z.union([z.enum(GROUP_FIELDS), zOwnPlace])
const zBoardField = z.union([z.enum(BOARD_FIELDS), zOwnPlace])
const zItemColumn = z.union([z.enum(ITEM_COLUMNS_SHOWN), zOwnPlace])
const filterText = z.string().max(2000).default('')
const trueOrFalse = z.enum(['true', 'false']).transform((text) => text === 'true')
/** Which items, in which order, and which page. */
export const zItemQuery = zPageQuery.extend({
  /** A board reads all of its cards at once. */
  limit: z.coerce.number().int().min(1).max(2000).default(100),
  filter: filterText,
  sort: z.enum(ITEM_SORTS).default('worst'),
  groupBy: zGroupField.optional(),
  /** Values of the groups that are left out, as `printValues` writes them. */
  folded: z.string().max(4000).transform(parseValues).optional(),
  /** Counting reads every item that fits; a screen shows the first page before and asks for the counts by themselves. */
  withTotal: trueOrFalse.default(true),
  /** Whether each item comes with the one that it is a part of. */
  withParents: trueOrFalse.default(false),
})
/** Which items to count, as a whole or by a field. */
export const zCountQuery = z.object({ filter: filterText, groupBy: zGroupField.optional() })
/** How many items fit, and with `groupBy` how many in each group, in the order of the groups; an empty value stands for none. */
export const zCounts = z.object({ total: z.number().int(), groups: z.array(z.object({ value: z.string(), count: z.number().int() })) })
export type ItemCounts = z.infer<typeof zCounts>
/** For which items on screen the found words are wanted. */
export const zFoundQuery = z.object({ filter: filterText, keys: z.string().max(5000) })
/** A text in pieces: those at odd places are what was looked for. */
const zMarked = z.array(z.string())
/** Of the asked items, where the words of the filter were found, with the words marked. */
export const zFound = z.object({
  rows: z.array(
    z.object({ key: zItemKey, title: zMarked, excerpt: zMarked.nullable(), place: z.enum(['title', 'description', 'comment']) }),
  ),
})
export type Found = z.infer<typeof zFound>['rows'][number]
/** Items that a filter admits with those that they are parts of; `isContext` marks a parent that the filter itself leaves out. */
export const zOutlineQuery = z.object({ filter: filterText, sort: z.enum(ITEM_SORTS).default('worst') })
/** Items as a tree of parents and parts. */
export const zOutline = z.object({
  rows: z.array(z.object({ item: zItemSummary, parentKey: z.string().nullable(), isContext: z.boolean() })),
  total: z.number().int(),
})
export type OutlineEntry = z.infer<typeof zOutline>['rows'][number]

/** What a view keeps besides its filter, order and columns. */
export const zViewLook = z.strictObject({
  layout: z.enum(LAYOUTS).default('items'),
  groupBy: zGroupField.optional(),
  widths: z.partialRecord(zItemColumn, z.number().int().min(WIDTH_PX.least).max(WIDTH_PX.most)).default({}),
  cards: zBoardField.optional(),
  lanes: zBoardField.optional(),
  values: z.array(z.string().max(100)).max(100).optional(),
})
/** How a view shows its items, with nothing left open. */
export type ViewLook = z.output<typeof zViewLook>
/** A saved view. */
export const zView = z.object({
  viewId: z.string(),
  name: z.string(),
  filter: z.string(),
  sort: zItemQuery.shape.sort,
  columns: z.array(zItemColumn),
  look: zViewLook,
  ownerId: z.string(),
  isShared: z.boolean(),
  isPinned: z.boolean(),
})
export type View = z.infer<typeof zView>
/** A view to save, new or over an old one. */
export const zSaveView = z.strictObject({
  /** Left out for a new one. */
  viewId: z.string().max(60).optional(),
  name: z.string().trim().min(1, 'A name is needed').max(60),
  filter: z.string().max(2000),
  sort: zItemQuery.shape.sort,
  columns: z
    .array(zItemColumn)
    .max(30)
    .default([...COLUMNS_DEFAULT]),
  look: zViewLook.default({ layout: 'items', widths: {} }),
  isShared: z.boolean().default(false),
  isPinned: z.boolean().default(true),
})
/** A view to save as it is sent: defaults may be left out. */
export type SaveView = z.input<typeof zSaveView>
/** Pins a view to the left index or takes it off. */
export const zPinView = z.strictObject({ isPinned: z.boolean() })
/** The asker's private addresses of calendar and activity feed. */
export const zFeedLinks = z.object({ calendar: z.string(), activity: z.string() })
/** Which items to write out, in which order. */
export const zExportQuery = zItemQuery.pick({ filter: true, sort: true })

const zViews = z.object({ rows: z.array(zView) })
/** What can be asked of looking. */
export const lookingOperations = {
  exportCsv: operation({
    method: 'get',
    path: '/items.csv',
    summary: 'Items that a filter admits, as CSV',
    may: 'member-of-any',
    about: 'nothing',
    query: zExportQuery,
    answer: z.string(),
    media: 'text/csv',
  }),
  exportJsonLines: operation({
    method: 'get',
    path: '/items.jsonl',
    summary: 'Items that a filter admits, as JSON Lines',
    may: 'member-of-any',
    about: 'nothing',
    query: zExportQuery,
    answer: z.string(),
    media: 'application/jsonl',
  }),
  listItems: operation({
    method: 'get',
    path: '/items',
    mayTakeLong: true,
    summary: 'Items that a filter admits',
    may: 'member-of-any',
    about: 'nothing',
    query: zItemQuery,
    answer: zPage(zItemSummary),
  }),
  countItems: operation({
    method: 'get',
    path: '/items-counts',
    mayTakeLong: true,
    summary: 'How many items a filter admits, in all and by group',
    may: 'member-of-any',
    about: 'nothing',
    query: zCountQuery,
    answer: zCounts,
  }),
  findExcerpts: operation({
    method: 'get',
    path: '/items-found',
    mayTakeLong: true,
    summary: 'Where the words of a filter stand in some items (keys joined by commas)',
    may: 'member-of-any',
    about: 'nothing',
    query: zFoundQuery,
    answer: zFound,
  }),
  readOutline: operation({
    method: 'get',
    path: '/items-outline',
    mayTakeLong: true,
    summary: 'Items that a filter admits, with the items that they are parts of',
    may: 'member-of-any',
    about: 'nothing',
    query: zOutlineQuery,
    answer: zOutline,
  }),
  listViews: operation({
    method: 'get',
    path: '/projects/:project/views',
    summary: 'Saved views: the asker’s own and shared ones',
    may: 'project.read',
    about: 'project',
    answer: zViews,
  }),
  saveView: operation({
    method: 'put',
    path: '/projects/:project/views',
    summary: 'Save a view',
    may: 'views.save',
    about: 'project',
    isPersonal: true,
    body: zSaveView,
    answer: zViews,
  }),
  removeView: operation({
    method: 'delete',
    path: '/projects/:project/views/:viewId',
    summary: 'Remove a view',
    may: 'project.read',
    about: 'project',
    isPersonal: true,
    answer: zViews,
  }),
  pinView: operation({
    method: 'post',
    path: '/projects/:project/views/:viewId/pin',
    summary: 'Pin a view in one’s own index, or take it out',
    may: 'project.read',
    about: 'project',
    isPersonal: true,
    body: zPinView,
    answer: zViews,
  }),
  readFeedLinks: operation({
    method: 'get',
    path: '/feed-links',
    summary: 'Private links to a view’s calendar and activity',
    may: 'member-of-any',
    about: 'nothing',
    isOfNow: true,
    isPersonal: true,
    query: zExportQuery,
    answer: zFeedLinks,
  }),
}

/** What calendar programs and feed readers fetch. */
export const lookingPaths = {
  readFeed: outsidePath({
    method: 'get',
    path: '/feeds/:name',
    summary: 'Due days as iCalendar (a name that ends in .ics) or what happened as Atom (.atom), by private link',
    proof: 'private-link',
    gives: { media: ['text/calendar', 'application/atom+xml'], status: 200 },
    refusesAs: 'problem',
  }),
}
