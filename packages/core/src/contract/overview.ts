import { z } from 'zod'
import { PROVENANCES, THREAD_COLUMNS } from '../threads/thread.js'
import { zAtMs, zLadder, zNodeRef, zPerson, zRole } from './common.js'
import { zFound, zItemSummary, zProjectSetup } from './items.js'

export const zSignIn = z.strictObject({ email: z.string().max(200), password: z.string().max(200) })
export const zSignUp = z.strictObject({
  secret: z.string().max(200),
  name: z.string().trim().min(1).max(100),
  email: z.email().max(200),
  password: z.string().min(10, 'At least 10 characters').max(200),
})
export const zMe = z.object({
  person: zPerson.nullable(),
  csrfToken: z.string(),
  project: z.object({ prefix: z.string(), name: z.string() }),
  people: z.array(zPerson),
  components: z.array(z.string()),
  milestones: z.array(z.string()),
  mayReadUnsigned: z.boolean(),
  isDemo: z.boolean(),
  outsideUrl: z.string().nullable(),
  needsFirstAdmin: z.boolean(),
  projects: z.array(z.object({ prefix: z.string(), name: z.string() })),
  labels: z.array(z.string()),
  sprints: z.array(z.string()),
  releases: z.array(z.string()),
  setup: zProjectSetup,
})
export type Me = z.infer<typeof zMe>
export { zRole }

export const zPlaces = z.object({
  desk: z.number().int(),
  triage: z.number().int(),
  items: z.number().int(),
  faults: z.number().int(),
  code: z.number().int(),
  brokenBuilds: z.number().int(),
  approvals: z.number().int(),
  requirements: z.number().int(),
  inbox: z.number().int(),
})
export type Places = z.infer<typeof zPlaces>

export const zDesk = z.object({
  waiting: z.array(
    z.object({
      why: z.enum(['answer', 'came-back', 'approve', 'review', 'build-broke', 'overdue', 'decide', 'fix', 'verify']),
      ref: zNodeRef,
      title: z.string(),
      detail: z.string(),
      atMs: zAtMs,
      item: zItemSummary.nullable(),
    }),
  ),
  /** What is being worked on, and since when. */
  working: z.array(z.object({ item: zItemSummary, sinceMs: zAtMs })),
})
export type Desk = z.infer<typeof zDesk>

export const zThread = z.object({
  start: z.string(),
  nodes: z.array(
    z.object({
      id: z.string(),
      ref: zNodeRef.nullable(),
      column: z.enum(THREAD_COLUMNS),
      title: z.string(),
      subtitle: z.string(),
      tone: z.enum(['proof', 'fault', 'ochre', 'plain', 'missing']),
    }),
  ),
  edges: z.array(
    z.object({
      from: z.string(),
      to: z.string(),
      kind: z.string(),
      provenance: z.enum(PROVENANCES),
      statedBy: z.string().nullable(),
      atMs: zAtMs.nullable(),
      score01: z.number().nullable(),
      tone: z.enum(['proof', 'fault', 'missing']),
    }),
  ),
  gaps: z.array(
    z.object({ code: z.enum(['requirement-without-item', 'item-without-code', 'fix-without-release', 'requirement-without-test']), of: z.string() }),
  ),
  history: z.array(
    z.object({
      seq: z.number().int(),
      kind: z.string(),
      atMs: zAtMs,
      by: z.string().nullable(),
      cause: z.string().nullable(),
      subject: z.string(),
      facts: z.record(z.string(), z.unknown()),
    }),
  ),
})
export type ThreadAnswer = z.infer<typeof zThread>

export const zSearchHit = z.object({
  ref: zNodeRef,
  title: z.string(),
  detail: z.string(),
  stair: z.string().nullable(),
  /** Where the words stand, for what was found by its words. */
  found: zFound.shape.rows.element.nullable(),
})
export type SearchHit = z.infer<typeof zSearchHit>
export const zSearchQuery = z.object({ q: z.string().max(200).default(''), limit: z.coerce.number().int().min(1).max(50).default(12) })
export const zSearch = z.object({ hits: z.array(zSearchHit) })

/** One message of the live stream: what changed, so that open screens can patch or fetch anew. */
export const zLiveMessage = z.object({
  seq: z.number().int(),
  kind: z.string(),
  atMs: zAtMs,
  subjects: z.array(z.string()),
  item: zItemSummary.nullable(),
  /** The item's new ladder, when that is what moved. */
  ladder: zLadder.nullable(),
})
export type LiveMessage = z.infer<typeof zLiveMessage>
