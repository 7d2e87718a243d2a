import { z } from 'zod'
import { zDay, zAtMs, zNodeRef } from '#basics/wire'
import { zStage, zDisposition } from '#ladder/wire'
import { ITEM_FIELDS, LOGGED_FIELDS, type FieldKind, type ItemFieldName, type LoggedField } from '#setup/item-fields'
import { zClassification, zPriority } from '#setup/item-type'
import { zRealDay } from '#setup/own-field'
import { PROVENANCES } from './provenance.js'

/** The key of a type of item; projects add their own. */
export const zItemType = z.string().regex(/^[a-z][a-z0-9-]{0,29}$/, 'Not a type')
/** How bad: 1 is the worst, 5 the least. */
export const zSeverity = z.number().int().min(1).max(5)
/** An item's key, as `PLN-12`. */
export const zItemKey = z.string().regex(/^[A-Z][A-Z0-9]{0,9}-[1-9]\d{0,8}$/)
/** A value of an own field, before it is held against the field's kind. */
export const zOwnValue = z.union([z.string().max(2000), z.number(), z.array(z.string().max(60)).max(50), z.null()])
/** An item as a line of a list. */
export const zItemSummary = z.object({
  key: zItemKey,
  title: z.string(),
  type: zItemType,
  severity: zSeverity.nullable(),
  ownerId: z.string().nullable(),
  component: z.string().nullable(),
  milestone: z.string().nullable(),
  labels: z.array(z.string()),
  stage: zStage,
  stair: z.string().length(7),
  hasComeBack: z.boolean(),
  disposition: zDisposition.nullable(),
  hasDrift: z.boolean(),
  project: z.string(),
  priority: zPriority.nullable(),
  sprint: z.string().nullable(),
  points: z.number().nullable(),
  estimateMinutes: z.number().int().nullable(),
  coOwnerIds: z.array(z.string()),
  dueOn: zDay.nullable(),
  isConfidential: z.boolean(),
  isArchived: z.boolean(),
  isBlocked: z.boolean(),
  /** What the project's own fields hold, by their ids. */
  ownValues: z.record(z.string(), zOwnValue),
  /** The item that it is a part of, as far as the asker may see it; only in lists that were asked for it. */
  parentKey: zItemKey.nullable().optional(),
  createdAtMs: zAtMs,
  updatedAtMs: zAtMs,
  revision: z.number().int(),
})
export type ItemSummary = z.infer<typeof zItemSummary>
/** A link as sent: both ends, kind and where it comes from. */
export const zLink = z.object({
  linkId: z.string(),
  kind: z.string(),
  from: zNodeRef,
  to: zNodeRef,
  provenance: z.enum(PROVENANCES),
  statedBy: z.string().nullable(),
  source: zNodeRef.nullable(),
  atMs: zAtMs,
  isSuspect: z.boolean(),
  title: z.string(),
})
export type Link = z.infer<typeof zLink>
/** One journal entry about an item, told for its history. */
export const zHistoryEntry = z.object({
  seq: z.number().int(),
  kind: z.string(),
  atMs: zAtMs,
  by: z.string().nullable(),
  cause: z.string().nullable(),
  source: zNodeRef.nullable(),
  facts: z.record(z.string(), z.unknown()),
  /** Whether it is the asker's own change that can be taken back. */
  canUndo: z.boolean().optional(),
})
export type HistoryEntry = z.infer<typeof zHistoryEntry>

const zPersonId = z.string().max(100)
/** What a field of each kind takes on the wire. */
export const FIELD_SCHEMAS = {
  title: z.string().trim().min(1, 'A title is needed').max(200, 'At most 200 characters'),
  prose: z.string().max(100_000, 'At most 100,000 characters'),
  severity: zSeverity.nullable(),
  person: zPersonId.nullable(),
  people: z.array(zPersonId).max(20),
  component: z.string().max(100).nullable(),
  line: z.string().max(50).nullable(),
  labels: z.array(z.string().trim().min(1).max(40)).max(20),
  day: zRealDay.nullable(),
  minutes: z.number().int().min(0).max(1_000_000).nullable(),
  type: zItemType,
  priority: zPriority.nullable(),
  points: z.number().min(0).max(1000).nullable(),
  classification: zClassification.nullable(),
  ownValues: z.record(z.string().max(40), zOwnValue),
  flag: z.boolean(),
} satisfies Record<FieldKind, z.ZodType>
type SchemaOf<Name extends ItemFieldName> = (typeof FIELD_SCHEMAS)[(typeof ITEM_FIELDS)[Name]['kind']]
/** What a field is when nothing was said of it; a title must be said. */
const ABSENT: { [Kind in Exclude<FieldKind, 'title'>]: z.infer<(typeof FIELD_SCHEMAS)[Kind]> } = {
  prose: '',
  severity: null,
  person: null,
  people: [],
  component: null,
  line: null,
  labels: [],
  day: null,
  minutes: null,
  type: 'defect',
  priority: null,
  points: null,
  classification: null,
  ownValues: {},
  flag: false,
}

/**
 * The shapes of the declared fields, made from their kinds: as read, as changed (each may be left out) and as logged (each but the title
 * has a default).
 */
export const READ_FIELDS = shapeOf(Object.keys(ITEM_FIELDS) as ItemFieldName[], (schema) => schema) as {
  [Name in ItemFieldName]: SchemaOf<Name>
}
/** The fields of an item as a change may carry them; each can be left out. */
export const CHANGED_FIELDS = shapeOf(Object.keys(ITEM_FIELDS) as ItemFieldName[], (schema) => schema.optional()) as {
  [Name in ItemFieldName]: z.ZodOptional<SchemaOf<Name>>
}
/** The fields of an item that can be given when it is logged. */
export const LOGGED_SHAPE = shapeOf(LOGGED_FIELDS, (schema, kind) =>
  kind === 'title' ? schema : schema.default(ABSENT[kind] as never),
) as {
  [Name in LoggedField]: (typeof ITEM_FIELDS)[Name]['kind'] extends 'title' ? SchemaOf<Name> : z.ZodDefault<SchemaOf<Name>>
}

function shapeOf(names: readonly ItemFieldName[], change: (schema: z.ZodType, kind: FieldKind) => z.ZodType): Record<string, z.ZodType> {
  return Object.fromEntries(names.map((name) => [name, change(FIELD_SCHEMAS[ITEM_FIELDS[name].kind], ITEM_FIELDS[name].kind)]))
}
