import { z } from 'zod'
import { BOARD_FIELDS } from '../board/board.js'
import { COLUMNS_DEFAULT, ITEM_COLUMNS_SHOWN, LAYOUTS, WIDTH_PX } from '../looking/look.js'
import { GROUP_FIELDS } from '../looking/orders.js'
import { zItemQuery } from './items.js'

/** What a view keeps besides its filter, order and columns. */
export const zViewLook = z.strictObject({
  layout: z.enum(LAYOUTS).default('items'),
  groupBy: z.enum(GROUP_FIELDS).optional(),
  widths: z.partialRecord(z.enum(ITEM_COLUMNS_SHOWN), z.number().int().min(WIDTH_PX.least).max(WIDTH_PX.most)).default({}),
  cards: z.enum(BOARD_FIELDS).optional(),
  lanes: z.enum(BOARD_FIELDS).optional(),
})
export type ViewLook = z.output<typeof zViewLook>

export const zView = z.object({
  viewId: z.string(),
  name: z.string(),
  filter: z.string(),
  sort: zItemQuery.shape.sort,
  columns: z.array(z.enum(ITEM_COLUMNS_SHOWN)),
  look: zViewLook,
  ownerId: z.string(),
  isShared: z.boolean(),
  isPinned: z.boolean(),
})
export type View = z.infer<typeof zView>
export const zSaveView = z.strictObject({
  /** Left out for a new one. */
  viewId: z.string().max(60).optional(),
  name: z.string().trim().min(1, 'A name is needed').max(60),
  filter: z.string().max(2000),
  sort: zItemQuery.shape.sort,
  columns: z
    .array(z.enum(ITEM_COLUMNS_SHOWN))
    .max(20)
    .default([...COLUMNS_DEFAULT]),
  look: zViewLook.default({ layout: 'items', widths: {} }),
  isShared: z.boolean().default(false),
  isPinned: z.boolean().default(true),
})
export type SaveView = z.input<typeof zSaveView>
export const zPinView = z.strictObject({ isPinned: z.boolean() })
export const zFeedLinks = z.object({ calendar: z.string(), activity: z.string() })
export const zExportQuery = zItemQuery.pick({ filter: true, sort: true })
