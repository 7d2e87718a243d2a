import { z } from 'zod'
import { zDay, zAtMs, zNodeRef } from '#basics/wire'
import { zStage, zDisposition } from '#ladder/wire'
import { zPriority } from '#setup/item-type'
import { PROVENANCES } from './provenance.js'

export const zItemType = z.string().regex(/^[a-z][a-z0-9-]{0,29}$/, 'Not a type')
export const zSeverity = z.number().int().min(1).max(5)
export const zItemKey = z.string().regex(/^[A-Z][A-Z0-9]{0,9}-[1-9]\d{0,8}$/)
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
