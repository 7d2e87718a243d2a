import { z } from 'zod'
import { zItemQuery } from './items.js'

/** The columns that a list of items can show, in the order in which they are offered. */
export const ITEM_COLUMNS_SHOWN = ['severity', 'priority', 'type', 'component', 'milestone', 'labels', 'due', 'updated', 'stair', 'owner'] as const
export type ItemColumn = (typeof ITEM_COLUMNS_SHOWN)[number]
export const COLUMNS_DEFAULT: readonly ItemColumn[] = ['severity', 'stair', 'owner']

export const zView = z.object({
  viewId: z.string(),
  name: z.string(),
  filter: z.string(),
  sort: zItemQuery.shape.sort,
  columns: z.array(z.enum(ITEM_COLUMNS_SHOWN)),
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
  isShared: z.boolean().default(false),
  isPinned: z.boolean().default(true),
})
export type SaveView = z.input<typeof zSaveView>
export const zPinView = z.strictObject({ isPinned: z.boolean() })
export const zFeedLinks = z.object({ calendar: z.string(), activity: z.string() })
export const zExportQuery = zItemQuery.pick({ filter: true, sort: true })
