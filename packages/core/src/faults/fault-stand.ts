/** Until when a fault is silent. Whatever is given ends it, whichever comes first; nothing given: until a person ends it. */
export interface Silence {
  sinceMs: number
  /** Occurrences when it was silenced. */
  sinceCount: number
  untilMs: number | null
  /** Once it occurred so many times more. */
  moreTimes: number | null
  /** Once it is seen in this release or a later one. */
  release: string | null
  /** Once an hour stands out from its past. */
  untilSpike: boolean
  reason: string
}
/** What a person said of a fault: that it is not ours to mend, or in which release it is gone. */
export interface FaultJudgement {
  kind: 'not-ours' | 'fixed'
  release: string | null
  reason: string
}
/** What people decided about a fault, apart from the items that stand for it. */
export interface FaultStand {
  ownerId: string | null
  silence: Silence | null
  judgement: FaultJudgement | null
}
/** Of a fault that nobody has said anything about. */
export const NO_STAND: FaultStand = { ownerId: null, silence: null, judgement: null }

/** What is known of a fault now, as far as it ends a silence or belies a judgement. */
export interface FaultNow {
  nowMs: number
  count: number
  releases: readonly string[]
  isSpike: () => boolean
}
