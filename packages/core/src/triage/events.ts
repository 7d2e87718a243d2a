import type { Disposition } from '#ladder/ladder'
import type { Decision, Proposed, TriageSource } from './decision.js'

/** The journal's events of triage and their bodies. */
export interface TriageEvents {
  'item-accepted': { key: string }
  'item-rejected': { key: string; disposition: Disposition; words: string }
  'acceptance-withdrawn': { key: string }
  'item-merged': { key: string; into: string; followerIds: string[]; assertionIds: string[]; fault: string | null }
  'item-split': { key: string }
  'reporter-asked': { key: string; words: string; untilMs: number }
  'reporter-answered': { key: string }
  'asking-ended': { key: string }
  'triage-decided': {
    decisionId: string
    key: string
    project: string
    decision: Decision
    disposition: Disposition | null
    proposed: Partial<Proposed>
    chosen: Partial<Proposed>
    waitedMs: number
    source: TriageSource
    /** The entries of the same write that make up the decision: its undo takes them all back. */
    seqs: number[]
  }
}
