import { z } from 'zod'
import { FIELD_USES, PRIORITIES, type FieldUse } from './field-use.js'

/** A type of item: its words, whether it is a defect, and how it uses each field. */
export const zItemTypeDefinition = z.strictObject({
  type: z.string().regex(/^[a-z][a-z0-9-]{0,29}$/, 'Small letters, digits and hyphens, a letter first'),
  /** Whether what is logged is something broken: it then "breaks" requirements and has a classification. */
  isDefect: z.boolean().default(false),
  position: z.number().int().min(0).max(1000).default(0),
  fields: z.record(z.string().max(50), z.enum(FIELD_USES)).default({}),
  /** What a new item of this type begins with. */
  template: z
    .strictObject({
      description: z.string().max(20_000).default(''),
      labels: z.array(z.string().trim().min(1).max(40)).max(20).default([]),
      component: z.string().max(100).nullable().default(null),
      ownerId: z.string().max(100).nullable().default(null),
    })
    .default({ description: '', labels: [], component: null, ownerId: null }),
})
export type ItemTypeDefinition = z.infer<typeof zItemTypeDefinition>
/** The types that every project begins with; a project may change them and add its own. */
export const STANDARD_TYPES: readonly ItemTypeDefinition[] = [
  {
    type: 'defect',
    isDefect: true,
    position: 0,
    fields: { points: 'hidden' },
    template: {
      description: '**Steps**\n1. \n\n**Expected**\n\n**Actual**\n\n**Environment**\n',
      labels: [],
      component: null,
      ownerId: null,
    },
  },
  { type: 'story', isDefect: false, position: 1, fields: hide('severity', 'foundIn', 'classification'), template: empty() },
  { type: 'task', isDefect: false, position: 2, fields: hide('severity', 'foundIn', 'classification'), template: empty() },
  {
    type: 'epic',
    isDefect: false,
    position: 3,
    fields: hide('severity', 'foundIn', 'classification', 'estimate', 'sprint'),
    template: empty(),
  },
]
function hide(...fields: string[]): Record<string, FieldUse> {
  return Object.fromEntries(fields.map((field) => [field, 'hidden' as const]))
}
function empty(): ItemTypeDefinition['template'] {
  return { description: '', labels: [], component: null, ownerId: null }
}
/** IEEE 1044: what kind of defect it is, where it was seen and where it came from. All optional. */
export const zClassification = z.strictObject({
  detectedIn: z.enum(['requirements', 'design', 'coding', 'review', 'test', 'operation']).nullable().default(null),
  broughtInAt: z.enum(['requirements', 'design', 'coding', 'change']).nullable().default(null),
  kind: z.enum(['missing', 'wrong', 'extra']).nullable().default(null),
  effect: z.enum(['function', 'performance', 'security', 'usability', 'data', 'safety', 'none']).nullable().default(null),
})
export type Classification = z.infer<typeof zClassification>
/** How soon something should be done. */
export const zPriority = z.enum(PRIORITIES)
/** The types that every project has; a filter names them as bare words, own types by `type=`. */
export const ITEM_TYPES = ['defect', 'story', 'task', 'epic'] as const
/** The key of a type of item. */
export type ItemType = string

/** Whether items of a type are defects: as the project's set-up says; a type that was taken off it is what its name says. */
export function isDefectType(types: readonly Pick<ItemTypeDefinition, 'type' | 'isDefect'>[], type: string): boolean {
  return types.find((known) => known.type === type)?.isDefect ?? type === 'defect'
}
