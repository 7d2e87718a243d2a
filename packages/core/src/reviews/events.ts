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
/** How a pull request is brought to its base: a merge of both lines, or one commit of all its changes. */
export type MergeMethod = 'merge' | 'squash'

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
  /** It is merged by itself once every gate holds; `method` is null where that is not wanted any more, `why` then says for what reason. */
  'merge-wanted': Of & { method: MergeMethod | null; why: string | null }
  /** Somebody who may merged it past gates that did not hold. */
  'gates-passed-over': Of & { gates: string[]; words: string }
  'merge-gates-set': { repository: string } & MergeGates
}
/** What has to hold before a change may go to the base, beside what its builds say. */
export interface MergeGates {
  /** So many people who wrote none of it agree. */
  agreements: number
  needsSettled: boolean
  needsItem: boolean
}
