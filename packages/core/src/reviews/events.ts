import type { Verdict } from './verdicts.js'

/** Where in a change a remark stands: lines of a file as one commit has it. The old side is what the change replaces. */
export interface RemarkPlace {
  path: string
  line: number
  lastLine: number
  side: 'old' | 'new'
  sha: string
}
/** Which pull request. */
interface Of {
  repository: string
  number: number
}
/** How a pull request is brought to its base: a merge of both lines, one commit of all its changes, or its commits anew on top of it. */
export const MERGE_METHODS = ['merge', 'squash', 'rebase'] as const
/** One of those ways. */
export type MergeMethod = (typeof MERGE_METHODS)[number]

/** The journal's events of reviews and their bodies. */
export interface ReviewsEvents {
  /** Somebody is asked to look, or is not any more. */
  'review-asked': Of & { personId: string; isOn: boolean }
  /** `patches`: the identities of the changes that its giver saw (docs/rules.md#approvals). */
  'review-given': Of & { reviewId: string; personId: string; verdict: Verdict; words: string; headSha: string; patches: string[] }
  'remark-made': Of & {
    remarkId: string
    replyTo: string | null
    personId: string
    place: RemarkPlace | null
    text: string
    instead?: string | null
  }
  'remark-settled': Of & { remarkId: string; isSettled: boolean }
  /** Somebody remarks on a commit, before or without a pull request. */
  'commit-remarked': {
    repository: string
    sha: string
    remarkId: string
    replyTo: string | null
    personId: string
    place: Omit<RemarkPlace, 'sha'> | null
    text: string
  }
  'commit-remark-settled': { repository: string; sha: string; remarkId: string; isSettled: boolean }
  /** To a remark on a change or on a commit, or to an answer. */
  'remark-reacted': { remarkId: string; reaction: string; isOn: boolean }
  /** It is merged by itself once every gate holds; `method` is null where that is not wanted any more, `why` then says for what reason. */
  'merge-wanted': Of & { method: MergeMethod | null; why: string | null }
  /**
   * It was merged with a commit that is not the base, or not yet (`on`), as a branch of its own, so that the result is built before the
   * base takes it. `ahead`: the changes that stand before it and that the commit holds, too.
   */
  'merge-tried': Of & { on: string; headSha: string; sha: string; branch: string; method: MergeMethod; ahead: number[] }
  /** That branch is gone. */
  'merge-trial-ended': Of
  /** Somebody who may merged it past gates that did not hold. */
  'gates-passed-over': Of & { gates: string[]; words: string }
  /** Those of the bases that a pattern names, `*` where none is said; entries from before say only some. Dropped, the pattern has none. */
  'merge-gates-set': { repository: string; branches?: string; isDropped?: boolean } & Partial<MergeGates>
}
/** When something may go to the base: on these days (1 is Monday) between two times of day in a zone; `until` may lie before `from`. */
export interface MergeHours {
  days: number[]
  from: string
  until: string
  zone: string
}
/** What has to hold before a change may go to the base, beside what its builds say. */
export interface MergeGates {
  /** So many people who wrote none of it agree. */
  agreements: number
  needsSettled: boolean
  needsItem: boolean
  /** For each path that somebody looks after by the owners file, one of them agrees. */
  needsOwners: boolean
  /** One of its items is asked for by a requirement. */
  needsRequirement: boolean
  /** Time is logged for one of its items. */
  needsTime: boolean
  /** No tie of its items to a requirement waits to be looked at again. */
  needsNoSuspects: boolean
  /** The newest build of the base did not break. */
  notWhileBroken: boolean
  /** No finding was first seen in one of its commits. */
  noNewFindings: boolean
  /** Tests run so many of a hundred lines that it brings, as far as they are measured; null where nothing is asked. */
  coverageAtLeast: number | null
  /** What it may bring at most, as a sentence (findings/quality-sentence.ts); empty where nothing is asked. */
  quality: string
  /** It is built on top of those that were wanted before it, and goes to the base as it was built. */
  triesOnTop: boolean
  hours: MergeHours | null
}
