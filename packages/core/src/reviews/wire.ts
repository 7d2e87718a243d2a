import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { zReact, zReactions } from '#talk/wire'
import { z } from 'zod'
import { MERGE_METHODS } from './events.js'
import { zHours, zQuality } from './gate-rules.js'
import { GATE_CODES } from './gates.js'
import { VERDICTS } from './verdicts.js'

const zPersonId = z.string().max(100)
const zLine = z.number().int().min(1).max(10_000_000)
/** Where a remark is to stand: lines of a file of the change as it is now. */
export const zNewRemarkPlace = z
  .strictObject({ path: z.string().min(1).max(1000), line: zLine, lastLine: zLine, side: z.enum(['old', 'new']) })
  .refine(({ line, lastLine }) => line <= lastLine, { path: ['lastLine'], message: 'The last line comes after the first' })
/** A remark to a change: on lines, on the whole, or in answer to another. */
export const zMakeRemark = z
  .strictObject({
    text: z.string().trim().max(20_000),
    place: zNewRemarkPlace.nullable().default(null),
    replyTo: z.string().max(100).nullable().default(null),
    /** What its lines should be instead; empty where they should go, null where nothing is proposed. */
    instead: z.string().max(20_000).nullable().default(null),
  })
  .refine(({ text, instead }) => text !== '' || instead !== null, { path: ['text'], message: 'Write a remark' })
  .refine(({ instead, place, replyTo }) => instead === null || (place?.side === 'new' && replyTo === null), {
    path: ['instead'],
    message: 'Other lines are proposed for lines that the change brings',
  })
/** Lines that a remark stands on. */
const zRemarkLines = z.object({ path: z.string(), line: zLine, lastLine: zLine, side: z.enum(['old', 'new']) })
/**
 * A remark as it is read. `now` is where its lines stand in the change as it is; null where they are gone:
 * then `place` says where they were.
 */
export const zRemark = z.object({
  remarkId: z.string(),
  personId: z.string(),
  atMs: zAtMs,
  text: z.string(),
  place: zRemarkLines.extend({ sha: z.string() }).nullable(),
  now: z.object({ line: zLine, lastLine: zLine }).nullable(),
  /** What its lines should be instead; null where it proposes nothing. */
  instead: z.string().nullable(),
  isSettled: z.boolean(),
  settledBy: z.string().nullable(),
  reactions: zReactions,
  answers: z.array(z.object({ remarkId: z.string(), personId: z.string(), atMs: zAtMs, text: z.string(), reactions: zReactions })),
})
export type Remark = z.infer<typeof zRemark>
/** A remark to a commit: on lines of it, on the whole, or in answer to another. */
export const zMakeCommitRemark = z.strictObject({
  text: z.string().trim().min(1, 'Write a remark').max(20_000),
  place: zNewRemarkPlace.nullable().default(null),
  replyTo: z.string().max(100).nullable().default(null),
})
export type MakeCommitRemark = z.output<typeof zMakeCommitRemark>
/** A remark to a commit as it is read; a commit never changes, so its lines stay where they are. */
export const zCommitRemark = zRemark.omit({ now: true, instead: true }).extend({ place: zRemarkLines.nullable() })
export type CommitRemark = z.infer<typeof zCommitRemark>
const zCommitRemarks = z.object({ rows: z.array(zCommitRemark) })
/** What somebody says of the whole change, with the remarks that they wrote meanwhile: all of it is sent at once. */
export const zGiveReview = z.strictObject({
  verdict: z.enum(VERDICTS),
  words: z.string().max(20_000).default(''),
  remarks: z.array(zMakeRemark).max(200).default([]),
})
export type GiveReview = z.output<typeof zGiveReview>
/** A condition before the merge. */
export const zMergeGate = z.object({
  code: z.enum(GATE_CODES),
  isMet: z.boolean(),
  words: z.string().nullable(),
  has: z.number().int(),
  needs: z.number().int(),
  personIds: z.array(z.string()),
})
/** What is asked for before a merge into the bases that a pattern names; what is left out is not asked for. */
export const zGateRule = z.strictObject({
  branches: z.string().trim().min(1).max(200).default('*'),
  agreements: z.number().int().min(0).max(10).default(0),
  needsSettled: z.boolean().default(false),
  needsItem: z.boolean().default(false),
  needsOwners: z.boolean().default(false),
  needsRequirement: z.boolean().default(false),
  needsTime: z.boolean().default(false),
  needsNoSuspects: z.boolean().default(false),
  notWhileBroken: z.boolean().default(false),
  noNewFindings: z.boolean().default(false),
  triesOnTop: z.boolean().default(false),
  coverageAtLeast: z.number().int().min(1).max(100).nullable().default(null),
  quality: zQuality,
  hours: zHours.nullable().default(null),
})
/** What a repository asks for before a merge: by its own file on the main line, else by what was set here. */
export const zRepositoryGates = z.object({
  rules: z.array(zGateRule),
  /** The file that the rules stand in, and what is wrong with it; null where there is none. */
  file: z.object({ path: z.string(), problem: z.string().nullable() }).nullable(),
})
export type RepositoryGates = z.infer<typeof zRepositoryGates>
/** What one gate would have stopped among the newest merges. */
export const zGateTrial = z.object({
  /** How many merges were looked at. */
  merges: z.number().int(),
  rows: z.array(
    z.object({
      code: z.enum(GATE_CODES),
      /** How many must agree, or of a hundred lines how many must be run, for those gates; else 0. */
      needs: z.number().int(),
      /** Numbers of the pull requests that it would have stopped, newest first. */
      stopped: z.array(z.number().int()),
      /** Those of them that a defect was later found to come from. */
      harmful: z.array(z.number().int()),
    }),
  ),
  /** Merges that a defect was later found to come from, stopped or not. */
  harmful: z.array(z.number().int()),
})
export type GateTrial = z.infer<typeof zGateTrial>
/** Which of the lines that a change brings tests ran, by the newest build of its newest commit that measured it. */
export const zChangedCoverage = z.object({
  /** The build that measured; null where none did. */
  build: z.string().nullable(),
  files: z.array(z.object({ path: z.string(), covered: z.array(z.number().int()), missed: z.array(z.number().int()) })),
  covered: z.number().int(),
  missed: z.number().int(),
  /** Whether the change is longer than what is looked at. */
  isCut: z.boolean(),
})
/** What the code host of a change was last told of it. */
export const zHostStatus = z.object({
  summary: z.string(),
  atMs: zAtMs,
  /** Why it could not be told anew; null where it shows what holds. */
  trouble: z.string().nullable(),
})
/** What the code host of a change was last told of it. */
export type HostStatus = z.infer<typeof zHostStatus>
/** Everything that is said about a change before it is merged. */
export const zReview = z.object({
  asked: z.array(z.object({ personId: z.string(), by: z.string(), atMs: zAtMs })),
  verdicts: z.array(
    z.object({
      personId: z.string(),
      verdict: z.enum(VERDICTS),
      words: z.string(),
      atMs: zAtMs,
      fell: z.enum(['changed', 'own-work']).nullable(),
    }),
  ),
  remarks: z.array(zRemark),
  gates: z.array(zMergeGate),
  /** Null where it lives here, or its host shows nothing for others. */
  atHost: zHostStatus.nullable(),
  /** Who may agree: members who wrote none of it. */
  canAgree: z.array(z.string()),
  /** Whoever wants it merged once all gates hold; null where nobody does. */
  wish: z.object({ by: z.string(), method: z.enum(MERGE_METHODS), atMs: zAtMs }).nullable(),
  /** The requirements that its items are about. */
  requirements: z.array(z.object({ key: z.string(), title: z.string() })),
  happened: z.array(
    z.object({ seq: z.number().int(), kind: z.string(), atMs: zAtMs, by: z.string().nullable(), facts: z.record(z.string(), z.unknown()) }),
  ),
})
export type Review = z.infer<typeof zReview>

/** Somebody to ask to look at a change, with why. */
export const zReviewerProposal = z.object({
  personId: z.string(),
  /** Paths of the change that are theirs by the owners file. */
  owned: z.array(z.string()),
  /** Commits of theirs that touched its files. */
  commits: z.number().int(),
  /** Changes that wait for their look already. */
  waiting: z.number().int(),
})
export type ReviewerRow = z.infer<typeof zReviewerProposal>

const path = '/pull-requests/:repository/:number'
/** What can be asked of reviews. */
export const reviewsOperations = {
  readReview: operation({
    method: 'get',
    path: `${path}/review`,
    summary: 'What is said about a change, and what it still waits for',
    may: 'project.read',
    about: 'repository',
    answer: zReview,
  }),
  listCommitRemarks: operation({
    method: 'get',
    path: '/commits/:repository/:sha/remarks',
    summary: 'What people remark on a commit, before or without a pull request',
    may: 'project.read',
    about: 'repository',
    answer: zCommitRemarks,
  }),
  remarkOnCommit: operation({
    method: 'post',
    path: '/commits/:repository/:sha/remarks',
    summary: 'Remark on lines of a commit, on the whole, or in answer to another remark',
    may: 'code.contribute',
    about: 'repository',
    body: zMakeCommitRemark,
    answer: zCommitRemarks,
  }),
  reactToCommitRemark: operation({
    method: 'post',
    path: '/commits/:repository/:sha/remarks/:remarkId/reactions',
    summary: 'React to a remark on a commit or an answer, or take the reaction back',
    may: 'code.contribute',
    about: 'repository',
    isPersonal: true,
    body: zReact,
    answer: zCommitRemarks,
  }),
  settleCommitRemark: operation({
    method: 'post',
    path: '/commits/:repository/:sha/remarks/:remarkId/settling',
    summary: 'Say that a remark on a commit is settled, or is not',
    may: 'code.contribute',
    about: 'repository',
    body: z.strictObject({ isSettled: z.boolean() }),
    answer: zCommitRemarks,
  }),
  readChangedCoverage: operation({
    method: 'get',
    path: `${path}/coverage`,
    summary: 'Which of the lines that it brings tests ran, as far as they are measured',
    may: 'project.read',
    about: 'repository',
    answer: zChangedCoverage,
  }),
  askReview: operation({
    method: 'post',
    path: `${path}/reviewers`,
    summary: 'Ask somebody to look at a change, or ask no more',
    may: 'code.contribute',
    about: 'repository',
    body: z.strictObject({ personId: zPersonId, isOn: z.boolean().default(true) }),
    answer: zReview,
  }),
  giveReview: operation({
    method: 'post',
    path: `${path}/reviews`,
    summary: 'Agree, ask for changes, or only remark; with all remarks at once',
    may: 'code.contribute',
    about: 'repository',
    isPersonal: true,
    body: zGiveReview,
    answer: zReview,
  }),
  makeRemark: operation({
    method: 'post',
    path: `${path}/remarks`,
    summary: 'Remark on lines, on the whole, or in answer to another remark',
    may: 'code.contribute',
    about: 'repository',
    isPersonal: true,
    body: zMakeRemark,
    answer: zReview,
  }),
  settleRemark: operation({
    method: 'post',
    path: `${path}/remarks/:remarkId/settling`,
    summary: 'Say that a remark is settled, or is not',
    may: 'code.contribute',
    about: 'repository',
    isPersonal: true,
    body: z.strictObject({ isSettled: z.boolean() }),
    answer: zReview,
  }),
  reactToRemark: operation({
    method: 'post',
    path: `${path}/remarks/:remarkId/reactions`,
    summary: 'React to a remark or an answer, or take the reaction back',
    may: 'code.contribute',
    about: 'repository',
    isPersonal: true,
    body: zReact,
    answer: zReview,
  }),
  takeProposed: operation({
    method: 'post',
    path: `${path}/proposed-changes`,
    summary: 'Take what remarks propose in place of their lines, as one commit on its branch; those remarks are settled by it',
    may: 'code.contribute',
    about: 'repository',
    isPersonal: true,
    body: z.strictObject({ remarkIds: z.array(z.string().max(100)).min(1, 'Choose a proposal').max(100) }),
    answer: zReview,
  }),
  listReviewerProposals: operation({
    method: 'get',
    path: `${path}/reviewer-proposals`,
    summary: 'Who to ask to look at a change: owners of its paths, and those who know its files, each with why',
    may: 'project.read',
    about: 'repository',
    answer: z.object({ rows: z.array(zReviewerProposal) }),
  }),
  wantMerge: operation({
    method: 'post',
    path: `${path}/merging`,
    summary: 'Merge now, once every gate holds, or (as somebody who may) past gates that do not, with the reason; or want it no more',
    may: 'code.contribute',
    about: 'repository',
    isPersonal: true,
    body: z.strictObject({
      method: z.enum(MERGE_METHODS).nullable(),
      passOver: z.string().trim().max(2000).default(''),
    }),
    answer: zReview,
  }),
  carryCommit: operation({
    method: 'post',
    path: '/commits/:repository/:sha/carrying',
    summary: 'Make the change of a commit anew on another line, or take it back there: pushed as a branch, asked for as a pull request',
    may: 'code.contribute',
    about: 'repository',
    body: z.strictObject({ how: z.enum(['pick', 'revert']), onto: z.string().min(1).max(200) }),
    answer: z.object({ repository: z.string(), number: z.number().int() }),
  }),
  readMergeGates: operation({
    method: 'get',
    path: '/repositories/:repository/gates',
    summary: 'What has to hold before a change of a repository may be merged',
    may: 'project.read',
    about: 'repository',
    answer: zRepositoryGates,
  }),
  tryMergeGates: operation({
    method: 'get',
    path: '/repositories/:repository/gate-trial',
    summary: 'What each gate by itself would have stopped among the newest merges, and which of those later brought in a defect',
    may: 'project.read',
    about: 'repository',
    answer: zGateTrial,
  }),
  setMergeGates: operation({
    method: 'put',
    path: '/repositories/:repository/gates',
    summary: 'Say what has to hold before a change of a repository may be merged',
    may: 'gates.set',
    about: 'repository',
    body: zGateRule,
    answer: zRepositoryGates,
  }),
  dropMergeGates: operation({
    method: 'delete',
    path: '/repositories/:repository/gates',
    summary: 'Ask for nothing more before a merge into the bases that a pattern names',
    may: 'gates.set',
    about: 'repository',
    query: z.object({ branches: z.string().min(1).max(200) }),
    answer: zRepositoryGates,
  }),
}
