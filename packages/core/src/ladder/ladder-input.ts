import type { Disposition, Stage } from './ladder.js'
import type { LadderPart } from './parts.js'

/** Something a person did or that happened, at a time. */
export interface Act {
  by: string | null
  atMs: number
}

/** A branch tied to the item, as the ladder needs it. */
export interface TiedBranch {
  repository: string
  name: string
  atMs: number
  isGone: boolean
}
/** A commit tied to the item, with what the graph says of it. */
export interface TiedCommit {
  repository: string
  sha: string
  subject: string
  author: string
  atMs: number
}
/** How a build of a tied commit stands. */
export const BUILD_STATES = ['running', 'passed', 'broke', 'stopped', 'ended'] as const
/** One of them: `stopped` was broken off, of one that `ended` nobody said how. */
export type BuildState = (typeof BUILD_STATES)[number]
/** A pull request tied to the item, as the ladder needs it. */
export interface TiedPullRequest {
  repository: string
  number: number
  state: 'open' | 'merged' | 'closed'
  author: string
  atMs: number
  build: { number: number; name: string; state: BuildState; failed: number; total: number } | null
  /** What people said of it, oldest first. */
  reviews: { by: string; verdict: 'agreed' | 'changes-asked'; atMs: number }[]
}

/** One repository's part of the fix, read from the commit graph. */
export interface RepositoryFix {
  repository: string
  /** The long-lived line on which most of the fix stands, where that is not the main line; else null. */
  line?: string | null
  /** Patches that make up the fix here, and how many of them stand at the main line, or at that other line. */
  patches: number
  patchesOnMain: number
  /** Newest carrying commit on the main line. */
  mainSha: string | null
  mainAtMs: number | null
  revertedBy: string | null
  /** Who declared that it needs nothing of the fix, and why; null where nobody did. */
  unaffected: { by: string; atMs: number; words: string } | null
}

/** What runs in one environment of kind production, for a service that the fix touches. */
export interface ProductionRun {
  environment: string
  service: string
  release: string
  atMs: number
  containsFix: boolean
  /** An older deployment there contained the fix and this one does not. */
  isRolledBack: boolean
}

/** The judgement on a tied fault's silence (see silence.ts). */
export interface FaultSilence {
  fault: string
  verdict: 'silent' | 'judging' | 'cannot-judge' | 'seen-again'
  sinceMs: number | null
  neededMs: number
  exercised: number
  seenIn: { release: string; environment: string; atMs: number } | null
}

/** Everything that an item's ladder is computed from; nothing else may decide it. */
export interface LadderInput {
  /** Its sub-items; a parent stands where the weakest of them stands. */
  parts: LadderPart[]
  logged: Act & { cause: 'person' | 'rule' | 'import' | 'test'; fault: string | null }
  accepted: Act | null
  started: Act | null
  branches: TiedBranch[]
  commits: TiedCommit[]
  pullRequests: TiedPullRequest[]
  fixes: RepositoryFix[]
  /** Null when the project knows no environment of kind production. */
  production: ProductionRun[] | null
  /** Releases that contain the whole fix, oldest first. */
  containingReleases: { service: string; release: string; atMs: number }[]
  verifyingTests: { name: string; passed: boolean; release: string }[]
  silences: FaultSilence[]
  verified: (Act & { atMs: number }) | null
  /** What people say without evidence; `accepted` where somebody who may stands for it. */
  claims: (Act & { stage: Stage; accepted: (Act & { words: string }) | null })[]
  rejected: (Act & { disposition: Disposition }) | null
  /** Where it stood elsewhere when it was imported, in the words that it had there. */
  baseline: (Act & { stage: Stage; words: string }) | null
}
