import { BitSet } from '#basics/bit-set'

/** A commit between the last good and the first bad one, with all its parents, also those that are not among them. */
export interface BetweenCommit {
  sha: string
  parents: readonly string[]
}

/** What a build said of the test at a commit; `untold`: it did not run there, or said both. */
export type Verdict = 'good' | 'bad' | 'untold'

/** What to do next: build a commit, or nothing more, since those that may have broken it are known as narrowly as they can be. */
export type NextStep =
  | {
      kind: 'build'
      sha: string
      /** Commits that may have broken it still, and about how many builds tell which. */
      left: number
      steps: number
    }
  | { kind: 'known'; guilty: string[] }

/**
 * Which commit to build next, to find the one that broke a test. Those that may have broken it are those that all bad commits have and
 * that no good commit has; of these the one is built which, whatever comes of it, leaves the fewest: with `a` ancestors among n (itself
 * counted) the build leaves a, or n - a, so the greatest min(a, n - a) is taken (the rule of bisection on directed acyclic graphs; see
 * Carmo, Donadelli, Kohayakawa, Laber: Searching in random partially ordered sets, 2004, for its bounds; on a line it is binary search).
 * Commits of which nothing can be told are passed by, and stay suspected. Exactly one commit is left in the end, or several where only
 * such ones lie between. Cost: O(n² / 32) bit operations for n commits between.
 *
 * @param commits in the order of history, a commit behind its ancestors; the last is the bad one.
 */
export function nextStep(commits: readonly BetweenCommit[], verdictOf: (sha: string) => Verdict | undefined): NextStep {
  const place = new Map(commits.map(({ sha }, at) => [sha, at]))
  const ancestors = commits.map(() => new BitSet(commits.length))
  const ancestorsAt = (at: number) => ancestors[at] ?? new BitSet(commits.length)
  for (const [at, { parents }] of commits.entries()) {
    const own = ancestorsAt(at)
    own.add(at)
    for (const parent of parents) {
      const of = place.get(parent)
      if (of !== undefined && of < at) own.unite(ancestorsAt(of))
    }
  }
  const left = new BitSet(commits.length, true)
  for (const [at, { sha }] of commits.entries()) if (at === commits.length - 1 || verdictOf(sha) === 'bad') left.intersect(ancestorsAt(at))
  // What a good commit has did not break it. One that is bad all the same breaks anew: then its own ancestors stay out, too.
  for (const [at, { sha }] of commits.entries()) if (verdictOf(sha) === 'good') left.subtract(ancestorsAt(at))
  const suspected = left.numbers()
  const shaAt = (at: number) => commits[at]?.sha ?? ''
  const count = suspected.length
  if (count <= 1) return { kind: 'known', guilty: suspected.map(shaAt) }
  let best: { at: number; worth: number } | null = null
  for (const at of suspected) {
    const behind = ancestorsAt(at).countCommon(left)
    const worth = Math.min(behind, count - behind)
    if (verdictOf(shaAt(at)) === undefined && worth > 0 && (best === null || worth > best.worth)) best = { at, worth }
  }
  if (best === null) return { kind: 'known', guilty: suspected.map(shaAt) }
  return { kind: 'build', sha: shaAt(best.at), left: count, steps: Math.ceil(Math.log2(count)) }
}
