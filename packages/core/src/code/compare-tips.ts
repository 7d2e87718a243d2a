import type { CommitGraph } from './commit-graph.js'
import { patchesTouchedBy, patchStateAt, revertedIn } from './patch-state.js'

/** What a commit has against another; each list holds hashes, one for each change. */
export interface TipDifference {
  /** Changes that are in effect at the tip and not at the base. */
  added: string[]
  /** Changes that were in effect at the base and are not at the tip: reverted since, or on the other line only. */
  removed: string[]
  /** Commits that only the tip has, whose change the base has by another commit. */
  again: string[]
  /** Commits that only the tip has, and that were taken back there. */
  undone: string[]
  /** Merges that only the tip has. */
  merges: number
}

/**
 * The changes of one commit against another, by the graph, with cherry-picks told by their patch and reverts
 * counted (docs/rules.md#reverts): that a commit is reachable does not say that its change is in effect. A
 * patch is looked at in full only where something could deceive: it has several carriers, or a commit reverts
 * something that touches it where one of the two is of the difference. O(commits of the difference + reverts of
 * the repository) beside that; each patch in full costs what `patchStateAt` does.
 */
export function compareTips(graph: CommitGraph, tip: string, base: string | null): TipDifference {
  const fresh = graph.between([tip], base === null ? [] : [base])
  const gone = base === null ? new Set<string>() : graph.between([base], [tip])
  // A commit that both have may say that it reverts one that only one of them has.
  const isOfDifference = (sha: string) => fresh.has(sha) || gone.has(sha)
  const reverts = revertedIn(graph).filter(({ by, target }) => isOfDifference(by) || isOfDifference(target))
  const doubtful = patchesTouchedBy(
    graph,
    reverts.map(({ by }) => by),
  )
  const difference: TipDifference = { added: [], removed: [], again: [], undone: [], merges: 0 }
  const sort = (shas: ReadonlySet<string>, plain: string[]): Map<string, string> => {
    const carriers = new Map<string, string>()
    for (const sha of shas) {
      const patch = graph.get(sha)?.patchId ?? null
      if (patch === null || carriers.has(patch)) continue
      carriers.set(patch, sha)
      if (graph.carriersOf(patch).length > 1) doubtful.add(patch)
      if (!doubtful.has(patch)) plain.push(sha)
    }
    return carriers
  }
  const freshCarriers = sort(fresh, difference.added)
  const goneCarriers = sort(gone, difference.removed)
  for (const sha of fresh) if ((graph.get(sha)?.parents.length ?? 0) > 1) difference.merges++
  for (const patch of doubtful) {
    const atTip = patchStateAt(graph, tip, patch)
    const atBase = base === null ? { isIn: false, carriers: [] } : patchStateAt(graph, base, patch)
    // A revert may change what is in effect of a commit that both have: then any carrier stands for it.
    const here = freshCarriers.get(patch)
    if (atTip.isIn && !atBase.isIn) difference.added.push(here ?? atTip.carriers[0] ?? '')
    else if (atBase.isIn && !atTip.isIn) difference.removed.push(goneCarriers.get(patch) ?? atBase.carriers[0] ?? '')
    else if (here !== undefined) difference[atTip.isIn ? 'again' : 'undone'].push(here)
  }
  return difference
}
