import type { CommitGraph } from './commit-graph.js'

/** Where a patch stands at one tip of the repository. */
export interface PatchState {
  /** Commits reachable from the tip that carry the patch. */
  carriers: string[]
  /** Reachable commits that take it back, themselves not taken back. */
  reverters: string[]
  /** Adds minus reverts is positive (docs/rules.md#reverts). */
  isIn: boolean
}

/**
 * The state of one patch at a tip: its carriers minus the reverts that stand. A revert that is itself reverted does not count, to
 * any depth, and reverting a merge reverts every patch that its second and later parents brought. Cost: O(reverts × depth) after the
 * reachability
 * set of the tip; abbreviated hashes are resolved in the graph.
 */
export function patchStateAt(graph: CommitGraph, tip: string, patchId: string): PatchState {
  const reachable = graph.reachableFrom(tip)
  const index = revertIndex(graph, reachable)
  const carriers = [...reachable].filter((sha) => graph.get(sha)?.patchId === patchId)
  const reverters = new Set<string>()
  let alive = 0
  for (const carrier of carriers) {
    const standing = (index.get(carrier) ?? []).filter((sha) => standsAt(sha, index, new Set()))
    if (standing.length === 0) alive++
    for (const sha of standing) reverters.add(sha)
  }
  return { carriers, reverters: [...reverters], isIn: alive > 0 }
}

function standsAt(sha: string, index: ReadonlyMap<string, string[]>, above: Set<string>): boolean {
  if (above.has(sha)) return false
  above.add(sha)
  const stands = !(index.get(sha) ?? []).some((reverter) => standsAt(reverter, index, above))
  above.delete(sha)
  return stands
}

const indexByTipSet = new WeakMap<ReadonlySet<string>, Map<string, string[]>>()

/** For each reachable commit, the reachable commits that say they revert it (a reverted merge spreads to what it brought). */
function revertIndex(graph: CommitGraph, reachable: ReadonlySet<string>): Map<string, string[]> {
  const known = indexByTipSet.get(reachable)
  if (known) return known
  const index = new Map<string, string[]>()
  const note = (target: string, by: string) => {
    const list = index.get(target) ?? []
    if (!list.includes(by)) list.push(by)
    index.set(target, list)
  }
  for (const sha of reachable) {
    for (const named of graph.get(sha)?.reverts ?? []) {
      const target = graph.resolve(named)
      if (!target || !reachable.has(target) || target === sha) continue
      note(target, sha)
      for (const brought of broughtByMerge(graph, target)) note(brought, sha)
    }
  }
  indexByTipSet.set(reachable, index)
  return index
}

function broughtByMerge(graph: CommitGraph, sha: string): Set<string> {
  const [first, ...others] = graph.get(sha)?.parents ?? []
  if (first === undefined || others.length === 0) return new Set()
  const before = graph.reachableFrom(first)
  return graph.walk(others, (candidate) => before.has(candidate))
}
