import { z } from 'zod'
import { PROVENANCES } from '../threads/thread.js'
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

export const zItem = zItemSummary.extend({
  description: z.string(),
  reporterId: z.string().nullable(),
  dueOn: zDay.nullable(),
  foundIn: z.string().nullable(),
  estimateMinutes: z.number().int().nullable(),
  spentMinutes: z.number().int(),
  ladder: zLadder,
  links: z.array(zLink),
  proposedBranch: z.string(),
  proposedRepository: z.string().nullable(),
})
export type Item = z.infer<typeof zItem>

export const zItemQuery = zPageQuery.extend({
  filter: z.string().max(2000).default(''),
  sort: z.enum(['worst', 'newest', 'updated']).default('worst'),
})
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
  dueOn: zDay.nullable().optional(),
  estimateMinutes: z.number().int().min(0).max(1_000_000).nullable().optional(),
  type: zItemType.optional(),
})
export type ChangeItem = z.infer<typeof zChangeItem>

export const zAcceptItem = z.strictObject({
  severity: zSeverity,
  ownerId: z.string().nullable().default(null),
  component: z.string().max(100).nullable().default(null),
  requirement: z.string().max(20).nullable().default(null),
  title: title.optional(),
})
export type AcceptItem = z.input<typeof zAcceptItem>
export const zRejectItem = z.strictObject({
  disposition: zDisposition,
  sameAs: zItemKey.nullable().default(null),
  words: z.string().max(2000).default(''),
})
export type RejectItem = z.input<typeof zRejectItem>
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

export const zComment = z.object({ commentId: z.string(), by: z.string().nullable(), atMs: zAtMs, text: z.string() })
export type Comment = z.infer<typeof zComment>
export const zAddComment = z.strictObject({ text: z.string().trim().min(1, 'Nothing was written').max(50_000) })
export const zTimeEntry = z.object({ personId: z.string(), minutes: z.number().int(), on: zDay, provenance: z.string(), atMs: zAtMs })
export type TimeEntry = z.infer<typeof zTimeEntry>
export const zAddTime = z.strictObject({
  minutes: z
    .number()
    .int()
    .min(-10_000)
    .max(10_000)
    .refine((value) => value !== 0, 'Not zero'),
  on: zDay.optional(),
})

export const zHistoryEntry = z.object({
  seq: z.number().int(),
  kind: z.string(),
  atMs: zAtMs,
  by: z.string().nullable(),
  cause: z.string().nullable(),
  source: zNodeRef.nullable(),
  facts: z.record(z.string(), z.unknown()),
})
export type HistoryEntry = z.infer<typeof zHistoryEntry>

export const zTriageEntry = z.object({
  item: zItemSummary,
  source: z.enum(['fault', 'person', 'import', 'came-back']),
  fault: z.string().nullable(),
  occurrences: z.number().int(),
  peopleHit: z.number().int(),
  from: z.string(),
  atMs: zAtMs,
})
export type TriageEntry = z.infer<typeof zTriageEntry>
export const zProposal = z.object({ value: z.string(), label: z.string(), reason: z.string() })
export type Proposal = z.infer<typeof zProposal>
export const zProposals = z.object({
  severity: z.object({ value: zSeverity, reason: z.string() }),
  owners: z.array(zProposal),
  components: z.array(zProposal),
  requirements: z.array(zProposal),
  alike: z.array(zProposal),
})
export type Proposals = z.infer<typeof zProposals>
