import { zPage, zPageQuery, zEmpty, zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { zItemSummary } from '#records/wire'
import { zFaultCauses, zUnusual } from './causes-wire.js'
import { FAULT_STATES } from './fault-state.js'
import { z } from 'zod'

/** One line of a stack trace after source maps were applied. */
export const zFrame = z.object({
  function: z.string().nullable(),
  file: z.string().nullable(),
  line: z.number().nullable(),
  column: z.number().nullable(),
  isApp: z.boolean(),
  isAsync: z.boolean(),
})
const zSilence = z.object({
  sinceMs: zAtMs,
  sinceCount: z.number().int(),
  untilMs: zAtMs.nullable(),
  moreTimes: z.number().int().nullable(),
  release: z.string().nullable(),
  untilSpike: z.boolean(),
  reason: z.string(),
})
const zJudgement = z.object({ kind: z.enum(['not-ours', 'fixed']), release: z.string().nullable(), reason: z.string() })
/** A group of alike occurrences as a line of a list. */
export const zFault = z.object({
  fault: z.string(),
  type: z.string(),
  message: z.string(),
  place: z.string().nullable(),
  service: z.string(),
  repository: z.string().nullable(),
  firstSeenAtMs: zAtMs,
  lastSeenAtMs: zAtMs,
  occurrences: z.number().int(),
  peopleHit: z.number().int(),
  releases: z.array(z.string()),
  environments: z.array(z.string()),
  item: zItemSummary.nullable(),
  /** Occurrences of each of the last fourteen days, today last. */
  recent: z.array(z.number().int()),
  state: z.enum(FAULT_STATES),
  ownerId: z.string().nullable(),
  silence: zSilence.nullable(),
  judgement: zJudgement.nullable(),
  /** The numbers of an hour that stands out from the fault's past: the last one in which it occurred. */
  spike: z.object({ seen: z.number(), expected: z.number(), from: z.number(), hours: z.number() }).nullable(),
})
export type Fault = z.infer<typeof zFault>
/** A frame with the commit that last changed its line. */
export const zBlamedFrame = zFrame.extend({
  path: z.string().nullable(),
  source: z.array(z.object({ line: z.number().int(), text: z.string() })),
  blame: z.object({ sha: z.string(), author: z.string(), atMs: zAtMs, subject: z.string(), items: z.array(z.string()) }).nullable(),
})
export type BlamedFrame = z.infer<typeof zBlamedFrame>
/** A fault with its occurrences over time and the item that was made of it. */
export const zFaultDetail = zFault.extend({
  maskedMessage: z.string(),
  reason: z.object({
    basis: z.string(),
    frame: z.string().nullable(),
    maskedValues: z.number().int(),
    /** The shared guard that stands between, and whether a cause decided and not what was thrown last. */
    guard: z.string().nullable().optional(),
    cause: z.boolean().optional(),
    by: z.string().optional(),
  }),
  /** The line that failed, release by release. */
  sites: z.array(z.object({ release: z.string(), line: z.number().int() })),
  /** The chain of causes of the sample, from what was thrown last to the deepest. */
  causes: z.array(z.object({ type: z.string(), message: z.string(), frames: z.number().int(), isDecisive: z.boolean() })),
  /** Other faults that went into this one; a merge that a person made can be taken back. */
  mergedFaults: z.array(z.object({ fault: z.string(), canTakeBack: z.boolean() })),
  /** Occurrences that were counted and not kept. */
  leftOut: z.number().int(),
  stacktrace: z.string(),
  frames: z.array(zFrame),
  byMinute: z.array(z.object({ atMs: zAtMs, count: z.number().int() })),
  byRelease: z.array(
    z.object({ release: z.string(), environment: z.string(), firstAtMs: zAtMs, lastAtMs: zAtMs, count: z.number().int() }),
  ),
})
export type FaultDetail = z.infer<typeof zFaultDetail>
/** The frames of a fault's newest occurrence, blamed at the release in which it happened. */
export const zFaultFrames = z.object({ release: z.string().nullable(), frames: z.array(zBlamedFrame) })
export type FaultFrames = z.infer<typeof zFaultFrames>
/** One occurrence as a line of a list. */
export const zOccurrence = z.object({
  occurrenceId: z.number().int(),
  atMs: zAtMs,
  receivedAtMs: zAtMs,
  release: z.string(),
  environment: z.string(),
  message: z.string(),
  severityNumber: z.number().int(),
  resource: z.record(z.string(), z.unknown()),
  attributes: z.record(z.string(), z.unknown()),
  traceId: z.string().nullable(),
  stacktrace: z.string(),
})
export type Occurrence = z.infer<typeof zOccurrence>
/** One occurrence whole: trace as sent and as read, attributes, release. */
export const zOccurrenceDetail = zOccurrence.extend({
  fault: z.string(),
  causes: zFaultDetail.shape.causes,
  /**
   * The frames of each exception in the order of `causes`, with the place in the source where a map led to it and the one in the built
   * file.
   */
  exceptions: z.array(
    z.object({
      type: z.string(),
      message: z.string(),
      thread: z.string().nullable(),
      hiddenFrames: z.number().int(),
      isSuppressed: z.boolean(),
      frames: z.array(zFrame.extend({ built: z.string().nullable() })),
    }),
  ),
  newerId: z.number().int().nullable(),
  olderId: z.number().int().nullable(),
  /** How many that are kept fail at the same line of the same release, this one among them. */
  alike: z.number().int(),
})
export type OccurrenceDetail = z.infer<typeof zOccurrenceDetail>
/** A fault that resembles another, with the stacks of both side by side. */
export const zLikeFault = z.object({
  fault: z.string(),
  type: z.string(),
  message: z.string(),
  place: z.string().nullable(),
  score01: z.number(),
  pairs: z.array(z.object({ left: zFrame.nullable(), right: zFrame.nullable() })),
})
export type LikeFault = z.infer<typeof zLikeFault>
/** By what faults are ordered: last seen, first seen, how often, how many people. */
export const FAULT_SORTS = ['last', 'first', 'times', 'people'] as const
/** Which faults, in which order. */
export const zFaultQuery = zPageQuery.extend({
  q: z.string().max(200).default(''),
  service: z.string().max(200).optional(),
  environment: z.string().max(100).optional(),
  release: z.string().max(100).optional(),
  /** Only faults that no item stands for, or only those that one does. */
  item: z.enum(['none', 'some']).optional(),
  /** Only those that stand so; without it those that a person has set aside (silenced, not ours) are left out. */
  state: z.enum([...FAULT_STATES, 'any']).optional(),
  sort: z.enum(FAULT_SORTS).default('last'),
})
const zReason = z.string().trim().max(500)
const zReleaseName = z
  .string()
  .trim()
  .regex(/^[\w.+-]{1,100}$/, 'A release such as 4.2.1')
/** What is done with faults by hand. */
export const zFaultAct = z.discriminatedUnion('act', [
  z.strictObject({ act: z.literal('assign'), ownerId: z.string().max(100).nullable() }),
  z.strictObject({
    act: z.literal('silence'),
    forMinutes: z
      .number()
      .int()
      .min(1, 'At least a minute')
      .max(366 * 1440, 'At most a year')
      .nullable()
      .default(null),
    moreTimes: z.number().int().min(1, 'At least once').max(10_000_000).nullable().default(null),
    release: zReleaseName.nullable().default(null),
    untilSpike: z.boolean().default(false),
    reason: zReason.default(''),
  }),
  z.strictObject({ act: z.literal('hear') }),
  z.strictObject({ act: z.literal('not-ours'), reason: zReason.min(1, 'A reason is needed') }),
  z.strictObject({ act: z.literal('fixed'), release: zReleaseName, reason: zReason.default('') }),
  z.strictObject({ act: z.literal('unjudge') }),
  z.strictObject({ act: z.literal('tie'), key: z.string().max(30) }),
  z.strictObject({ act: z.literal('untie'), key: z.string().max(30) }),
])
export type FaultAct = z.output<typeof zFaultAct>
/** How the item of a fault is called; left out, it is called by what failed and where. */
export const zLogFault = z.strictObject({ title: z.string().trim().min(1).max(200).optional() }).default({})
/** One act on several faults. */
export const zActOnFaults = z.strictObject({
  faults: z
    .array(z.string().regex(/^F-\d{1,9}$/i, 'A fault such as F-3'))
    .min(1, 'At least one fault')
    .max(200, 'At most 200 at once'),
  act: zFaultAct,
})
/** What became of an act on several faults; `seqs` names the entries by which it can be taken back. */
export const zFaultActsDone = z.object({
  done: z.array(z.string()),
  refused: z.array(z.object({ fault: z.string(), why: z.string() })),
  seqs: z.array(z.number().int()),
})
export type FaultActsDone = z.infer<typeof zFaultActsDone>
/** The fault into which another one is merged. */
export const zMergeFault = z.strictObject({ into: z.string().regex(/^F-\d{1,9}$/i, 'A fault such as F-3') })
/** To which fault an occurrence and all that fails at its line belongs from now on: another one, or null for one of its own. */
export const zTellApart = z.strictObject({
  to: z
    .string()
    .regex(/^F-\d{1,9}$/i, 'A fault such as F-3')
    .nullable(),
  /** Whether what is there already of that line goes along. */
  includesEarlier: z.boolean().default(true),
})
/** A service that sends errors, or is to: what it is mapped to, and when it was last heard. */
export const zConnectedService = z.object({
  service: z.string(),
  project: z.string().nullable(),
  repository: z.string().nullable(),
  tagPrefix: z.string().nullable(),
  /** The folder of the repository that it is built from; empty for all of it. */
  pathPrefix: z.string(),
  /** Paths and packages that are the program's own code, or another's, whatever else says otherwise. */
  ownCode: z.array(z.string()),
  foreignCode: z.array(z.string()),
  lastHeardAtMs: zAtMs.nullable(),
  lastFaultAtMs: zAtMs.nullable(),
  releases: z.array(z.string()),
  maps: z.number().int(),
})
export type ConnectedService = z.infer<typeof zConnectedService>
const zFolder = z
  .string()
  .trim()
  .max(200)
  .regex(/^(?!\/)[^\\\0*]*$/, 'A folder of the repository, such as services/kiln')
  .transform((folder) => folder.replace(/\/+$/, ''))
const zCodePatterns = z
  .array(
    z
      .string()
      .trim()
      .min(1)
      .max(200)
      .regex(/[\w]/, 'A path or package, such as src/vendor or org.clay')
      .regex(/^[^*]*(?:\*[^*]*){0,2}$/, 'At most two stars'),
  )
  .max(50, 'At most fifty')
/** A program that will send telemetry: its name and the repository of its source. */
export const zConnectService = z.strictObject({
  service: z.string().trim().min(1, 'A name is needed').max(200),
  repository: z.string().max(100),
  tagPrefix: z.string().max(50).default('v'),
  pathPrefix: zFolder.default(''),
})
/** Changes of a mapped service; `includesEarlier` has what it sent before found anew. */
export const zChangeService = z.strictObject({
  repository: z.string().max(100).optional(),
  tagPrefix: z.string().max(50).optional(),
  pathPrefix: zFolder.optional(),
  ownCode: zCodePatterns.optional(),
  foreignCode: zCodePatterns.optional(),
  includesEarlier: z.boolean().default(false),
})
/**
 * What is taken out before anything is stored, beyond the rules that are always there: texts that a pattern (RE2 syntax) finds, or
 * attributes by their name.
 */
export const zScrubRule = z.object({ ruleId: z.string(), kind: z.enum(['text', 'attribute']), pattern: z.string(), name: z.string() })
export type ScrubRule = z.infer<typeof zScrubRule>
/** A pattern whose matches are blotted out of everything that is received. */
export const zAddScrubRule = z.strictObject({
  kind: z.enum(['text', 'attribute']),
  pattern: z.string().trim().min(2, 'At least two characters').max(200),
  name: z.string().trim().min(1, 'A word for what it is').max(40),
})
/** A text to try the scrubbing rules on; it is kept nowhere. */
export const zTryScrub = z.strictObject({ text: z.string().max(10_000) })

const zRules = z.object({ rows: z.array(zScrubRule) })
/** What can be asked of faults. */
export const faultsOperations = {
  listFaults: operation({
    method: 'get',
    path: '/faults',
    summary: 'Faults by service, environment, release and words, in the order asked for',
    may: 'member-of-any',
    about: 'nothing',
    query: zFaultQuery,
    answer: zPage(zFault),
  }),
  readFault: operation({
    method: 'get',
    path: '/faults/:fault',
    summary: 'One fault',
    may: 'project.read',
    about: 'fault',
    answer: zFaultDetail,
  }),
  readFaultCauses: operation({
    method: 'get',
    path: '/faults/:fault/causes',
    summary: 'Commits that may have brought it in, likeliest first: between the last release without it and the first with it',
    may: 'project.read',
    about: 'fault',
    answer: zFaultCauses,
  }),
  readUnusual: operation({
    method: 'get',
    path: '/faults/:fault/unusual',
    summary: 'What is unusual about it: values of attributes that it has more often than what else the service does',
    may: 'project.read',
    about: 'fault',
    answer: zUnusual,
  }),
  readFaultFrames: operation({
    method: 'get',
    path: '/faults/:fault/frames',
    summary: 'Its frames with source and blame',
    may: 'project.read',
    about: 'fault',
    answer: zFaultFrames,
  }),
  listOccurrences: operation({
    method: 'get',
    path: '/faults/:fault/occurrences',
    summary: 'Occurrences with everything as received',
    may: 'project.read',
    about: 'fault',
    query: zPageQuery,
    answer: zPage(zOccurrence),
  }),
  readOccurrence: operation({
    method: 'get',
    path: '/faults/:fault/occurrences/:occurrence',
    summary: 'One occurrence with everything as received, its exceptions as they are read, and its neighbours',
    may: 'project.read',
    about: 'fault',
    answer: zOccurrenceDetail,
  }),
  changeService: operation({
    method: 'patch',
    path: '/services/:service',
    summary: 'Change what a service is built from and whose code is whose; on request what it sent before is found anew',
    may: 'services.set-up',
    about: 'service',
    body: zChangeService,
    answer: z.object({ merged: z.number().int(), made: z.number().int() }),
  }),
  listScrubRules: operation({
    method: 'get',
    path: '/scrub-rules',
    summary: 'What is taken out before anything is stored, beside what always is',
    may: 'member-of-any',
    about: 'nothing',
    answer: zRules,
  }),
  addScrubRule: operation({
    method: 'post',
    path: '/scrub-rules',
    summary: 'Take more out of all that comes from now on',
    may: 'scrub.change',
    about: 'nothing',
    body: zAddScrubRule,
    answer: zRules,
  }),
  removeScrubRule: operation({
    method: 'delete',
    path: '/scrub-rules/:ruleId',
    summary: 'Remove such a rule',
    may: 'scrub.change',
    about: 'nothing',
    answer: zRules,
  }),
  tryScrub: operation({
    method: 'post',
    path: '/scrub-rules/try',
    summary: 'A text as it would be stored',
    may: 'member-of-any',
    about: 'nothing',
    body: zTryScrub,
    answer: zTryScrub,
  }),
  listAlikeFaults: operation({
    method: 'get',
    path: '/faults/:fault/alike',
    summary: 'Faults that resemble it, with the stacks side by side',
    may: 'project.read',
    about: 'fault',
    answer: z.object({ rows: z.array(zLikeFault) }),
  }),
  mergeFault: operation({
    method: 'post',
    path: '/faults/:fault/merge',
    summary: 'Make one fault of two: this one goes into the other',
    may: 'faults.sort',
    about: 'fault',
    body: zMergeFault,
    answer: zFaultDetail,
  }),
  unmergeFault: operation({
    method: 'delete',
    path: '/faults/:fault/merge',
    summary: 'Take a merge back: the fault is one of its own again',
    may: 'faults.sort',
    about: 'fault',
    answer: zFaultDetail,
  }),
  placeOccurrence: operation({
    method: 'post',
    path: '/faults/:fault/occurrences/:occurrence/belongs',
    summary: 'Say to which fault an occurrence and all that fails at its line belongs; answers with that fault',
    may: 'faults.sort',
    about: 'fault',
    body: zTellApart,
    answer: zFaultDetail,
  }),
  listServices: operation({
    method: 'get',
    path: '/services',
    summary: 'Services that send errors, what they are mapped to, and when they were last heard',
    may: 'member-of-any',
    about: 'nothing',
    answer: z.object({ rows: z.array(zConnectedService) }),
  }),
  connectService: operation({
    method: 'post',
    path: '/projects/:project/services',
    summary: 'Map a service to a repository',
    may: 'services.set-up',
    about: 'project',
    body: zConnectService,
    answer: z.object({ rows: z.array(zConnectedService) }),
  }),
  sendTestEvent: operation({
    method: 'post',
    path: '/services/:service/test-event',
    summary: 'Send a harmless error through the intake, as a program would',
    may: 'faults.sort',
    about: 'service',
    answer: zEmpty,
  }),
  logFault: operation({
    method: 'post',
    path: '/faults/:fault/item',
    summary: 'Log an item for a fault that none stands for yet',
    may: 'faults.log',
    about: 'fault',
    body: zLogFault,
    answer: z.object({ key: z.string() }),
    status: 201,
  }),
  actOnFaults: operation({
    method: 'post',
    path: '/faults/acts',
    summary: 'Assign, silence, judge, tie or untie several faults at once; each that cannot be is named with the reason',
    may: 'faults.sort',
    about: 'nothing',
    body: zActOnFaults,
    answer: zFaultActsDone,
  }),
}
