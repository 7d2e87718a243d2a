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
  const words = (commits.length + 31) >>> 5
  const ancestors = commits.map(() => new Int32Array(words))
  for (const [at, { parents }] of commits.entries()) {
    const own = ancestors[at] as Int32Array
    own[at >>> 5] = (own[at >>> 5] ?? 0) | (1 << (at & 31))
    for (const parent of parents) {
      const of = place.get(parent)
      if (of !== undefined && of < at) unite(own, ancestors[of] as Int32Array)
    }
  }
  const left = new Int32Array(words).fill(-1)
  for (const [at, { sha }] of commits.entries()) {
    const verdict = at === commits.length - 1 ? 'bad' : verdictOf(sha)
    if (verdict === 'bad') intersect(left, ancestors[at] as Int32Array)
  }
  // What a good commit has did not break it. One that is bad all the same breaks anew: then its own ancestors stay out, too.
  for (const [at, { sha }] of commits.entries()) if (verdictOf(sha) === 'good') subtract(left, ancestors[at] as Int32Array)
  const suspected = commits.filter((_, at) => has(left, at))
  const count = suspected.length
  if (count <= 1) return { kind: 'known', guilty: suspected.map(({ sha }) => sha) }
  let best: { sha: string; worth: number } | null = null
  for (const { sha } of suspected) {
    const at = place.get(sha) ?? 0
    const behind = countCommon(ancestors[at] as Int32Array, left)
    const worth = Math.min(behind, count - behind)
    if (verdictOf(sha) === undefined && worth > 0 && (best === null || worth > best.worth)) best = { sha, worth }
  }
  if (best === null) return { kind: 'known', guilty: suspected.map(({ sha }) => sha) }
  return { kind: 'build', sha: best.sha, left: count, steps: Math.ceil(Math.log2(count)) }
}

function has(set: Int32Array, at: number): boolean {
  return ((set[at >>> 5] ?? 0) & (1 << (at & 31))) !== 0
}
function unite(set: Int32Array, other: Int32Array): void {
  for (let at = 0; at < set.length; at++) set[at] = (set[at] ?? 0) | (other[at] ?? 0)
}
function intersect(set: Int32Array, other: Int32Array): void {
  for (let at = 0; at < set.length; at++) set[at] = (set[at] ?? 0) & (other[at] ?? 0)
}
function subtract(set: Int32Array, other: Int32Array): void {
  for (let at = 0; at < set.length; at++) set[at] = (set[at] ?? 0) & ~(other[at] ?? 0)
}
function countCommon(set: Int32Array, other: Int32Array): number {
  let count = 0
  for (let at = 0; at < set.length; at++) for (let word = (set[at] ?? 0) & (other[at] ?? 0); word !== 0; word &= word - 1) count++
  return count
}
