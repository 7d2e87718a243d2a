import { zPage, zPageQuery, zAtMs } from '#basics/wire'
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
/** What happened around an occurrence. Empty where its sender named no trace, or sent nothing of it. */
export const zTrail = z.object({
  steps: z.array(
    z.object({
      mark: z.string(),
      kind: z.enum(['span', 'log', 'error']),
      service: z.string(),
      parent: z.string().nullable(),
      atMs: zAtMs,
      endMs: zAtMs.nullable(),
      severityNumber: z.number().int(),
      name: z.string(),
      detail: z.string(),
      depth: z.number().int(),
      stand: z.enum(['before', 'during', 'after']),
    }),
  ),
  /** Steps of services that belong to another project. */
  elsewhere: z.number().int(),
})
export type Trail = z.infer<typeof zTrail>
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
/** An item for a fault as a person would begin it: to be looked through, put right and logged. */
export const zFaultItemProposal = z.object({
  project: z.string(),
  title: z.string(),
  description: z.string(),
  component: z.string().nullable(),
  /** The release that it was seen in first, as items name it. */
  foundIn: z.string().nullable(),
  severity: z.number().int().nullable(),
  /** The requirement that it probably breaks, with why; null where nothing speaks for one. */
  requirement: z.object({ key: z.string(), why: z.string() }).nullable(),
})
export type FaultItemProposal = z.infer<typeof zFaultItemProposal>
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
  readTrail: operation({
    method: 'get',
    path: '/faults/:fault/occurrences/:occurrence/trail',
    summary: 'What happened around an occurrence: the spans and log records of its trace, in one line of time',
    may: 'project.read',
    about: 'fault',
    answer: zTrail,
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
  proposeFaultItem: operation({
    method: 'get',
    path: '/faults/:fault/item-proposal',
    summary: 'An item for a fault as a person would write it: what it was asked, what was expected, what happened; nothing is logged',
    may: 'faults.log',
    about: 'fault',
    answer: zFaultItemProposal,
    problems: ['conflict'],
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
