/** What people did with an item that a rule logged, and how bad its fault was when the rule fired. */
export interface JudgedFiring {
  judgement: 'taken' | 'rejected' | 'waiting'
  count: number
  people: number
}
/** A condition that would have kept rejected items away, and what it would have cost. */
export interface ThresholdProposal {
  what: 'people' | 'count'
  atLeast: number
  rejectedAvoided: number
  rejected: number
  takenLost: number
  taken: number
}

/** Fewer rejected ones are no pattern. */
const REJECTED_MIN = 3
/** So much of what was rejected has to stay away, and no more of what was taken. */
const AVOIDED_MIN = 0.5
const LOST_MAX = 0.05

/**
 * What a rule could ask for so that most of what people rejected would not have come, and hardly anything
 * that they took is lost: the threshold with the most rejected ones away, the lowest of those. Null where
 * none helps enough. O(n log n).
 */
export function proposeThreshold(firings: readonly JudgedFiring[]): ThresholdProposal | null {
  const rejected = firings.filter((firing) => firing.judgement === 'rejected')
  const taken = firings.filter((firing) => firing.judgement === 'taken')
  if (rejected.length < REJECTED_MIN) return null
  const proposals = (['people', 'count'] as const).flatMap((what) =>
    [...new Set(rejected.map((firing) => firing[what] + 1))].map((atLeast): ThresholdProposal => {
      const under = (firing: JudgedFiring) => firing[what] < atLeast
      return {
        what,
        atLeast,
        rejectedAvoided: rejected.filter(under).length,
        rejected: rejected.length,
        takenLost: taken.filter(under).length,
        taken: taken.length,
      }
    }),
  )
  return (
    proposals
      .filter((each) => each.rejectedAvoided >= each.rejected * AVOIDED_MIN && each.takenLost <= each.taken * LOST_MAX)
      .sort((a, b) => b.rejectedAvoided - a.rejectedAvoided || a.takenLost - b.takenLost || a.atLeast - b.atLeast)[0] ?? null
  )
}
