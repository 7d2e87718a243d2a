import { zPageQuery, zAtMs, zDay, zNodeRef } from '#basics/wire'
import { zItem } from '#items/wire'
import { zDisposition } from '#ladder/wire'
import { operation } from '#people/operation'
import { zSeverity, zItemKey, zItemSummary } from '#records/wire'
import { zProposed, TRIAGE_SOURCES, DECISIONS, PROPOSED_FIELDS } from './decision.js'
import { z } from 'zod'

const title = z.string().trim().min(1, 'A title is needed').max(200, 'At most 200 characters')
/** How a decision from the queue says that it is one: what was proposed, and that it holds only while nobody else has decided. */
const fromTriage = { proposed: zProposed.partial().optional(), asWaiting: z.boolean().default(false) }
/** Accepts a waiting item, with what is set by the way. */
export const zAcceptItem = z.strictObject({
  severity: zSeverity,
  ownerId: z.string().nullable().default(null),
  component: z.string().max(100).nullable().default(null),
  milestone: z.string().max(50).nullable().default(null),
  requirement: z.string().max(20).nullable().default(null),
  title: title.optional(),
  ...fromTriage,
})
/** An acceptance as it is sent: defaults may be left out. */
export type AcceptItem = z.input<typeof zAcceptItem>
/** Ends a waiting item without work, with the reason. */
export const zRejectItem = z.strictObject({
  disposition: zDisposition,
  sameAs: zItemKey.nullable().default(null),
  words: z.string().max(2000).default(''),
  ...fromTriage,
})
/** A rejection as it is sent: defaults may be left out. */
export type RejectItem = z.input<typeof zRejectItem>
/** Says that a waiting item is the same as another. */
export const zMergeItem = z.strictObject({ into: z.string().trim().min(1, 'Name the item that it is the same as').max(20), ...fromTriage })
/** A merge as it is sent: defaults may be left out. */
export type MergeItem = z.input<typeof zMergeItem>
/** After how many days without an answer a question brings its item back into the queue. */
export const ASK_DAYS_DEFAULT = 7
/** A question to the reporter; the item waits for the answer. */
export const zAskReporter = z.strictObject({
  words: z.string().trim().min(1, 'Ask something').max(2000),
  days: z.number().int().min(1).max(60).default(ASK_DAYS_DEFAULT),
  ...fromTriage,
})
/** A question as it is sent: defaults may be left out. */
export type AskReporter = z.input<typeof zAskReporter>
/** One decision on several waiting items. */
export const zDecideMany = z.discriminatedUnion('decision', [
  z.strictObject({ decision: z.literal('accept'), keys: z.array(z.string().max(20)).min(1).max(500), severity: zSeverity }),
  z.strictObject({
    decision: z.literal('reject'),
    keys: z.array(z.string().max(20)).min(1).max(500),
    disposition: zDisposition.exclude(['duplicate']),
    words: z.string().max(2000).default(''),
  }),
  z.strictObject({ decision: z.literal('same-as'), keys: z.array(z.string().max(20)).min(1).max(500), into: z.string().max(20) }),
  z.strictObject({
    decision: z.literal('ask'),
    keys: z.array(z.string().max(20)).min(1).max(500),
    words: z.string().trim().min(1, 'Ask something').max(2000),
    days: z.number().int().min(1).max(60).default(ASK_DAYS_DEFAULT),
  }),
])
/** One decision on several items as it is sent. */
export type DecideMany = z.input<typeof zDecideMany>
/** How many were decided, and which were refused and why. */
export const zDecidedMany = z.object({ decided: z.number().int(), refused: z.array(z.object({ key: z.string(), why: z.string() })) })
/** Why an item waits where it does in the queue. */
export const zRankReason = z.discriminatedUnion('code', [
  z.object({ code: z.literal('came-back') }),
  z.object({ code: z.literal('answered') }),
  z.object({ code: z.literal('severity'), severity: zSeverity }),
  z.object({ code: z.literal('people'), count: z.number().int() }),
  z.object({ code: z.literal('occurrences'), count: z.number().int() }),
  z.object({ code: z.literal('new-in'), release: z.string() }),
  z.object({ code: z.literal('waits'), days: z.number().int() }),
])
/** Which part of the queue. */
export const zTriageQuery = zPageQuery.extend({
  limit: z.coerce.number().int().min(1).max(5000).default(100),
  source: z.enum(TRIAGE_SOURCES).optional(),
})
/** A waiting item with its rank. */
export const zTriageEntry = z.object({
  item: zItemSummary,
  source: z.enum(TRIAGE_SOURCES),
  fault: z.string().nullable(),
  occurrences: z.number().int(),
  peopleHit: z.number().int(),
  from: z.string(),
  atMs: zAtMs,
  /** Its own severity, or the guess that it is ranked by. */
  severity: zSeverity,
  isGuess: z.boolean(),
  /** Why it stands here, the weightiest first. */
  reasons: z.array(zRankReason),
})
export type TriageEntry = z.infer<typeof zTriageEntry>
/** A page of the queue, with the counts by source. */
export const zTriagePage = z.object({
  rows: z.array(zTriageEntry),
  nextCursor: z.string().nullable(),
  total: z.number().int(),
  /** How many wait for their reporter's answer meanwhile. */
  asked: z.number().int(),
  bySource: z.record(z.string(), z.number().int()),
})
export type TriagePage = z.infer<typeof zTriagePage>
/** One proposed value with its reasons. */
export const zProposal = z.object({
  value: z.string(),
  label: z.string(),
  reason: z.string(),
  /** Whether evidence ties it, not words that are merely alike. */
  isFounded: z.boolean().default(false),
})
export type Proposal = z.infer<typeof zProposal>
/** All that is proposed for a waiting item. */
export const zProposals = z.object({
  severity: z.object({ value: zSeverity, reason: z.string() }),
  owners: z.array(zProposal),
  components: z.array(zProposal),
  milestones: z.array(zProposal),
  requirements: z.array(zProposal),
  alike: z.array(zProposal),
  /** Commits or items that likely brought it in. */
  broughtInBy: z.array(zProposal),
  /** Who decided meanwhile, if somebody did. */
  decided: z.object({ by: z.string(), decision: z.enum(DECISIONS), atMs: zAtMs }).nullable(),
})
export type Proposals = z.infer<typeof zProposals>
const zCounts = z.record(z.string(), z.number().int())
/** What triage did in each week: came, decided, how long it took. */
/** What people put right of what was found, grouped or guessed by itself. */
export const PUT_RIGHT = ['faults-joined', 'faults-parted', 'joining-undone', 'same-as', 'item-parted', 'severity-set'] as const
const zPutRight = z.enum(PUT_RIGHT)
/** The weeks of deciding, the newest first. */
export const zTriageWeeks = z.object({
  rows: z.array(
    z.object({
      /** The Monday it begins with. */
      weekOn: zDay,
      cameIn: zCounts,
      decided: zCounts,
      rejected: zCounts,
      undone: z.number().int(),
      /** Middle and 90th percentile of the time from coming in to the decision; null where nothing was decided. */
      waitedMedianMs: z.number().int().nullable(),
      waitedP90Ms: z.number().int().nullable(),
      proposals: z.array(z.object({ field: z.enum(PROPOSED_FIELDS), taken: z.number().int(), changed: z.number().int() })),
      /** How often each was put right; what never was is left out. */
      putRight: z.partialRecord(zPutRight, z.number().int()),
    }),
  ),
  /** The newest few of each kind of what was put right: `from` is what it was taken for or done to, `to` what it is with, if anything. */
  examples: z.array(z.object({ what: zPutRight, atMs: zAtMs, by: z.string(), from: zNodeRef, to: zNodeRef.nullable() })),
  rules: z.array(z.object({ ruleId: z.string(), name: z.string(), set: z.number().int(), changedSince: z.number().int() })),
})
export type TriageWeeks = z.infer<typeof zTriageWeeks>

const WEEKS_MAX = 26
/** What can be asked of triage. */
export const triageOperations = {
  listTriage: operation({
    method: 'get',
    path: '/triage',
    summary: 'What needs a decision, the most urgent first',
    may: 'member-of-any',
    about: 'nothing',
    query: zTriageQuery,
    answer: zTriagePage,
  }),
  readProposals: operation({
    method: 'get',
    path: '/items/:key/proposals',
    summary: 'What a decision could look like, with reasons',
    may: 'project.read',
    about: 'item',
    answer: zProposals,
  }),
  acceptItem: operation({
    method: 'post',
    path: '/items/:key/accept',
    summary: 'Accept',
    may: 'items.decide',
    about: 'item',
    body: zAcceptItem,
    answer: zItem,
  }),
  rejectItem: operation({
    method: 'post',
    path: '/items/:key/reject',
    summary: 'Reject with a disposition',
    may: 'items.decide',
    about: 'item',
    body: zRejectItem,
    answer: zItem,
  }),
  mergeItem: operation({
    method: 'post',
    path: '/items/:key/merge',
    summary: 'Say that it is the same as another, into which it goes',
    may: 'items.decide',
    about: 'item',
    body: zMergeItem,
    answer: zItem,
  }),
  splitItem: operation({
    method: 'post',
    path: '/items/:key/split',
    summary: 'Take a merge back',
    may: 'items.decide',
    about: 'item',
    answer: zItem,
  }),
  askReporter: operation({
    method: 'post',
    path: '/items/:key/ask',
    summary: 'Ask the reporter',
    may: 'items.decide',
    about: 'item',
    body: zAskReporter,
    answer: zItem,
  }),
  decideMany: operation({
    method: 'post',
    path: '/triage/decisions',
    summary: 'Decide on several at once',
    may: 'items.decide',
    about: 'nothing',
    body: zDecideMany,
    answer: zDecidedMany,
  }),
  readTriageWeeks: operation({
    method: 'get',
    path: '/projects/:project/triage-weeks',
    mayTakeLong: true,
    summary: 'A look at the weeks of deciding',
    may: 'project.read',
    about: 'project',
    query: z.object({ weeks: z.coerce.number().int().min(1).max(WEEKS_MAX).default(8) }),
    answer: zTriageWeeks,
  }),
}
