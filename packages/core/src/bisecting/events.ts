/** How a search ended: the commit is known, or as few as can be told apart; somebody called it off; its commits are not here any more. */
export type BisectionOutcome = 'found' | 'called-off' | 'gone'

/** The journal's events of searches for the commit that broke a test. */
export interface BisectingEvents {
  'bisection-begun': { bisectionId: string; repository: string; suite: string; name: string; good: string; bad: string; build: number }
  /** `guilty`: the commit, or those that cannot be told apart. */
  'bisection-ended': { bisectionId: string; outcome: BisectionOutcome; guilty: string[] }
}
