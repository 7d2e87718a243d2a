import { GROUP_FIELDS, ITEM_SORTS } from '../looking/orders.js'
import { parseValues } from '../looking/value-list.js'
import { LABEL_COLOUR_NAMES } from '../items/label-colour.js'
import { zMilestone } from '../items/milestone.js'
import { z } from 'zod'
import { PROVENANCES } from '../threads/thread.js'
import { zClassification, zItemTypeDefinition, zPriority } from '../items/item-type.js'
import { REACTIONS } from '../items/field-use.js'
import { isDay, zOwnField } from '../items/own-field.js'
import { TIME_GROUPS } from '../items/time-sums.js'
import { zAtMs, zDay, zDisposition, zItemKey, zItemType, zLadder, zNodeRef, zPageQuery, zSeverity, zStage } from './common.js'

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
  coOwnerIds: z.array(z.string()),
  dueOn: zDay.nullable(),
  isConfidential: z.boolean(),
  isArchived: z.boolean(),
  isBlocked: z.boolean(),
  createdAtMs: zAtMs,
  updatedAtMs: zAtMs,
  revision: z.number().int(),
})
export type ItemSummary = z.infer<typeof zItemSummary>

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

/** A value of an own field, before it is held against the field's kind. */
export const zOwnValue = z.union([z.string().max(2000), z.number(), z.array(z.string().max(60)).max(50), z.null()])
const zRealDay = zDay.refine(isDay, 'The calendar has no such day')
const personIds = z.array(z.string().max(100)).max(20)
export const zItem = zItemSummary.extend({
  description: z.string(),
  reporterId: z.string().nullable(),
  /** Where it came from when no account reported it: an address, or the public form. */
  cameFrom: z.string().nullable(),
  points: z.number().nullable(),
  plannedFor: z.string().nullable(),
  classification: zClassification.nullable(),
  ownValues: z.record(z.string(), zOwnValue),
  namedIds: z.array(z.string()),
  followerIds: z.array(z.string()),
  /** Sub-items, and how many of them stand where. */
  children: z.array(zItemSummary),
  blockedBy: z.array(z.string()),
  keeperId: z.string().nullable(),
  /** The item that it was found to be the same as and went into. */
  mergedInto: z.string().nullable(),
  /** What its reporter is asked, while it waits for their answer. */
  asked: z.object({ words: z.string(), by: z.string(), untilMs: zAtMs }).nullable(),
  /** Keys that it had before it was moved. */
  aliases: z.array(z.string()),
  foundIn: z.string().nullable(),
  estimateMinutes: z.number().int().nullable(),
  spentMinutes: z.number().int(),
  ladder: zLadder,
  links: z.array(zLink),
  proposedBranch: z.string(),
  proposedRepository: z.string().nullable(),
})
export type Item = z.infer<typeof zItem>

const filterText = z.string().max(2000).default('')
const trueOrFalse = z.enum(['true', 'false']).transform((text) => text === 'true')
export const zItemQuery = zPageQuery.extend({
  /** A board reads all of its cards at once. */
  limit: z.coerce.number().int().min(1).max(2000).default(100),
  filter: filterText,
  sort: z.enum(ITEM_SORTS).default('worst'),
  groupBy: z.enum(GROUP_FIELDS).optional(),
  /** Values of the groups that are left out, as `printValues` writes them. */
  folded: z.string().max(4000).transform(parseValues).optional(),
  /** Counting reads every item that fits; a screen shows the first page before and asks for the counts by themselves. */
  withTotal: trueOrFalse.default(true),
})
export const zCountQuery = z.object({ filter: filterText, groupBy: z.enum(GROUP_FIELDS).optional() })
/** How many items fit, and with `groupBy` how many in each group, in the order of the groups; an empty value stands for none. */
export const zCounts = z.object({ total: z.number().int(), groups: z.array(z.object({ value: z.string(), count: z.number().int() })) })
export type ItemCounts = z.infer<typeof zCounts>
export const zFoundQuery = z.object({ filter: filterText, keys: z.string().max(5000) })
/** A text in pieces: those at odd places are what was looked for. */
const zMarked = z.array(z.string())
export const zFound = z.object({
  rows: z.array(z.object({ key: zItemKey, title: zMarked, excerpt: zMarked.nullable(), place: z.enum(['title', 'description', 'comment']) })),
})
export type Found = z.infer<typeof zFound>['rows'][number]
/** Items that a filter admits with those that they are parts of; `isContext` marks a parent that the filter itself leaves out. */
export const zOutlineQuery = z.object({ filter: filterText, sort: z.enum(ITEM_SORTS).default('worst') })
export const zOutline = z.object({
  rows: z.array(z.object({ item: zItemSummary, parentKey: z.string().nullable(), isContext: z.boolean() })),
  total: z.number().int(),
})
export type OutlineEntry = z.infer<typeof zOutline>['rows'][number]
export const zSetParent = z.strictObject({ parent: z.string().max(20).nullable() })
const title = z.string().trim().min(1, 'A title is needed').max(200, 'At most 200 characters')
const description = z.string().max(100_000, 'At most 100,000 characters')

export const zLogItem = z.strictObject({
  title,
  type: zItemType.default('defect'),
  project: z.string().max(10).default('EMB'),
  description: description.default(''),
  severity: zSeverity.nullable().default(null),
  component: z.string().max(100).nullable().default(null),
  milestone: z.string().max(50).nullable().default(null),
  labels: z.array(z.string().trim().min(1).max(40)).max(20).default([]),
  requirement: z.string().max(20).nullable().default(null),
  foundIn: z.string().max(50).nullable().default(null),
  ownerId: z.string().max(100).nullable().default(null),
  coOwnerIds: personIds.default([]),
  priority: zPriority.nullable().default(null),
  sprint: z.string().max(50).nullable().default(null),
  points: z.number().min(0).max(1000).nullable().default(null),
  plannedFor: z.string().max(50).nullable().default(null),
  dueOn: zRealDay.nullable().default(null),
  estimateMinutes: z.number().int().min(0).max(1_000_000).nullable().default(null),
  classification: zClassification.nullable().default(null),
  ownValues: z.record(z.string().max(40), zOwnValue).default({}),
  isConfidential: z.boolean().default(false),
  /** The item that it is a part of. */
  parent: z.string().max(20).nullable().default(null),
})
export type LogItem = z.input<typeof zLogItem>

export const zChangeItem = z.strictObject({
  title: title.optional(),
  description: description.optional(),
  severity: zSeverity.nullable().optional(),
  ownerId: z.string().nullable().optional(),
  component: z.string().max(100).nullable().optional(),
  milestone: z.string().max(50).nullable().optional(),
  labels: z.array(z.string().trim().min(1).max(40)).max(20).optional(),
  dueOn: zRealDay.nullable().optional(),
  estimateMinutes: z.number().int().min(0).max(1_000_000).nullable().optional(),
  type: zItemType.optional(),
  priority: zPriority.nullable().optional(),
  coOwnerIds: personIds.optional(),
  sprint: z.string().max(50).nullable().optional(),
  points: z.number().min(0).max(1000).nullable().optional(),
  foundIn: z.string().max(50).nullable().optional(),
  plannedFor: z.string().max(50).nullable().optional(),
  classification: zClassification.nullable().optional(),
  /** Only the own fields that change. */
  ownValues: z.record(z.string().max(40), zOwnValue).optional(),
  isConfidential: z.boolean().optional(),
  namedIds: personIds.optional(),
  isArchived: z.boolean().optional(),
})
export type ChangeItem = z.infer<typeof zChangeItem>

export const zStartItem = z.strictObject({ repository: z.string().max(100), branch: z.string().max(120).optional() })
export const zStarted = z.object({ branch: z.string(), repository: z.string(), commands: z.array(z.string()) })
export type Started = z.infer<typeof zStarted>
export const zVerifyItem = z.strictObject({ words: z.string().max(2000).default('') })
export const zClaimStage = z.strictObject({ stage: zStage, words: z.string().trim().min(1, 'Say why').max(2000) })

export const zAddLink = z.strictObject({
  kind: z.enum(['implements', 'breaks', 'blocks', 'parent', 'same-as', 'see-also', 'brought-in-by', 'tied', 'fixes']),
  to: zNodeRef,
})
export type AddLink = z.infer<typeof zAddLink>

export const zComment = z.object({
  commentId: z.string(),
  by: z.string().nullable(),
  /** The address that it came from, when no account wrote it. */
  from: z.string().nullable(),
  atMs: zAtMs,
  text: z.string(),
  replyTo: z.string().nullable(),
  editedAtMs: zAtMs.nullable(),
  reactions: z.array(z.object({ reaction: z.string(), personIds: z.array(z.string()) })),
})
export type Comment = z.infer<typeof zComment>
const commentText = z.string().trim().min(1, 'Nothing was written').max(50_000, 'At most 50,000 characters')
export const zAddComment = z.strictObject({ text: commentText, replyTo: z.string().max(100).optional() })
export const zEditComment = z.strictObject({ text: commentText, before: z.string().max(50_000) })
export const zReact = z.strictObject({ reaction: z.enum(REACTIONS), isOn: z.boolean() })
export const zCommentRevision = z.object({ text: z.string(), atMs: zAtMs })
export const zDeedPreview = z.object({
  deeds: z.array(z.record(z.string(), z.unknown())),
  refused: z.array(z.object({ trailer: z.string(), code: z.string() })),
  mentions: z.array(z.object({ personId: z.string(), maySee: z.boolean() })),
})
export const zTimeEntry = z.object({
  entryId: z.string(),
  itemKey: z.string(),
  personId: z.string(),
  minutes: z.number().int(),
  on: zDay,
  provenance: z.string(),
  atMs: zAtMs,
})
export type TimeEntry = z.infer<typeof zTimeEntry>
export const zTimeQuery = z.object({ by: z.enum(TIME_GROUPS).default('person'), from: zDay.optional(), to: zDay.optional() })
export const zTimeSums = z.object({
  rows: z.array(z.object({ group: z.string(), minutes: z.number().int(), bookings: z.number().int() })),
  totalMinutes: z.number().int(),
})
export type TimeSums = z.infer<typeof zTimeSums>

export const zAttachment = z.object({
  attachmentId: z.string(),
  name: z.string(),
  mediaType: z.string(),
  sizeBytes: z.number().int(),
  hasThumbnail: z.boolean(),
  by: z.string(),
  atMs: zAtMs,
})
export type Attachment = z.infer<typeof zAttachment>

export const zLookAlikeQuery = z.object({
  title: z.string().max(200),
  text: z.string().max(5000).default(''),
  project: z.string().max(10).optional(),
  component: z.string().max(100).optional(),
})
export const zLookAlike = z.object({ item: zItemSummary, sharedWords: z.array(z.string()), relatedWords: z.array(z.tuple([z.string(), z.string()])) })
export type LookAlike = z.infer<typeof zLookAlike>
export const zReportAgain = z.strictObject({ title, description })
export const zFollow = z.strictObject({ isOn: z.boolean() })
export const zMoveItem = z.strictObject({ project: z.string().max(10) })
export const zBulk = z.strictObject({ keys: z.array(zItemKey).min(1).max(5000), change: zChangeItem })
export const zBulkDone = z.object({
  changed: z.number().int(),
  refused: z.array(z.object({ key: z.string(), why: z.string() })),
  /** The journal's entries of it, by which all of it is taken back at once. */
  seqs: z.array(z.number().int()),
})
export type BulkDone = z.infer<typeof zBulkDone>
export const zBulkUndo = z.strictObject({ seqs: z.array(z.number().int().positive()).min(1).max(5000) })
export const zUndo = z.strictObject({ seq: z.number().int().optional() })
export const zUndone = z.object({ key: z.string(), said: z.string() })

export const zPublicReport = z.strictObject({
  title,
  description,
  address: z.union([z.email().max(200), z.literal('')]).default(''),
  component: z.string().max(100).nullable().default(null),
})
/** The text of the private link by which a reporter without an account follows their report. */
export const zReported = z.object({ token: z.string() })
export const zProjectSetup = z.object({
  types: z.array(zItemTypeDefinition),
  ownFields: z.array(zOwnField),
  stageRules: z.array(z.object({ stage: zStage, needs: z.array(z.string()) })),
  hasPublicForm: z.boolean(),
  /** Those that were set up, and those that items merely name (without days); with how many of their items are open and settled. */
  milestones: z.array(
    z.object({
      name: z.string(),
      startsOn: zDay.nullable(),
      dueOn: zDay.nullable(),
      isClosed: z.boolean(),
      openItems: z.number().int(),
      settledItems: z.number().int(),
    }),
  ),
  labels: z.array(z.object({ label: z.string(), colour: z.enum(LABEL_COLOUR_NAMES) })),
  /** How many cards a board's column should hold at most. */
  limits: z.array(z.object({ field: z.string(), value: z.string(), most: z.number().int() })),
})
export type ProjectSetup = z.infer<typeof zProjectSetup>
export const zSetStageRule = z.strictObject({ stage: zStage, needs: z.array(z.string().max(50)).max(20) })
export const zSetMilestone = z.strictObject({ milestone: zMilestone, formerName: z.string().max(50).optional() })
export const zColourLabel = z.strictObject({ label: z.string().trim().min(1).max(40), colour: z.enum(LABEL_COLOUR_NAMES) })
export const zOrderFields = z.strictObject({ fieldIds: z.array(z.string().max(40)).max(200) })
export const zSetLimit = z.strictObject({
  field: z.string().max(30),
  value: z.string().max(100),
  most: z.number().int().min(1).max(10_000).nullable(),
})
export const zSetPublicForm = z.strictObject({ isOn: z.boolean() })
export const zAddTime = z.strictObject({
  minutes: z
    .number()
    .int()
    .min(-10_000)
    .max(10_000)
    .refine((value) => value !== 0, 'Not zero'),
  on: zRealDay.optional(),
})

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
