import type { CommitFlow, CommitGraph } from './commit-graph.js'

/** Where a patch stands at one tip of the repository. */
export interface PatchState {
  /** Commits reachable from the tip that carry the patch. */
  carriers: string[]
  /** Reachable commits that take it back, themselves not taken back. */
  reverters: string[]
  /** Adds minus reverts is positive (docs/rules.md#reverts). */
  isIn: boolean
}
/** That a commit is taken back by another; `via` is the merge that was reverted with all that it brought. */
interface Taking {
  by: string
  via: string | null
}

/**
 * The state of one patch at a tip: its carriers minus the reverts that stand. A revert that is itself reverted does not count, to
 * any depth, and reverting a merge reverts every patch that its second and later parents brought. Cost: one forward pass from the
 * oldest carrier for all tips together (see CommitGraph.flowOf), then O(reverts × depth) for each; abbreviated hashes are resolved
 * in the graph.
 */
export function patchStateAt(graph: CommitGraph, tip: string, patchId: string): PatchState {
  const carriersEverywhere = graph.carriersOf(patchId)
  const { takings, flow } = takingsOf(graph, carriersEverywhere)
  const isThere = (sha: string) => flow.has(tip, sha)
  const takenBackBy = (sha: string) =>
    (takings.get(sha) ?? []).filter((taking) => isThere(taking.by) && (taking.via === null || isThere(taking.via)))
  const carriers = carriersEverywhere.filter(isThere)
  const reverters = new Set<string>()
  let alive = 0
  for (const carrier of carriers) {
    const standing = takenBackBy(carrier).filter(({ by }) => standsAt(by, takenBackBy, new Set()))
    if (standing.length === 0) alive++
    for (const { by } of standing) reverters.add(by)
  }
  return { carriers, reverters: [...reverters], isIn: alive > 0 }
}

/** Every patch that the commits carry, take back, or bring again by taking back a revert. */
export function patchesTouchedBy(graph: CommitGraph, shas: Iterable<string>): Set<string> {
  const patches = new Set<string>()
  const seen = new Set<string>()
  const queue = [...shas]
  for (let sha = queue.pop(); sha !== undefined; sha = queue.pop()) {
    if (seen.has(sha)) continue
    seen.add(sha)
    const commit = graph.get(sha)
    if (commit?.patchId) patches.add(commit.patchId)
    for (const named of commit?.reverts ?? []) {
      const target = graph.resolve(named)
      if (target) queue.push(target, ...broughtByMerge(graph, target))
    }
  }
  return patches
}

function standsAt(sha: string, takenBackBy: (sha: string) => Taking[], above: Set<string>): boolean {
  if (above.has(sha)) return false
  above.add(sha)
  const stands = !takenBackBy(sha).some(({ by }) => standsAt(by, takenBackBy, above))
  above.delete(sha)
  return stands
}

/** Who takes back the commits, who takes back those, and so on; with what shows which of them a tip has. */
function takingsOf(graph: CommitGraph, carriers: readonly string[]): { takings: Map<string, Taking[]>; flow: CommitFlow } {
  const takings = new Map<string, Taking[]>()
  const concerned = new Set(carriers)
  const reverted = revertedIn(graph)
  let flow = graph.flowOf([...concerned])
  for (let isGrowing = reverted.length > 0; isGrowing; ) {
    const before = concerned.size
    takings.clear()
    const asked = [...concerned]
    for (const { target, by, parents } of reverted)
      for (const sha of asked) {
        const isBrought = () => parents.slice(1).some((parent) => flow.has(parent, sha)) && !flow.has(parents[0] ?? '', sha)
        const via = sha === target ? null : parents.length > 1 && isBrought() ? target : undefined
        if (via === undefined) continue
        const list = takings.get(sha) ?? []
        takings.set(sha, list)
        if (!list.some((taking) => taking.by === by && taking.via === via)) list.push({ by, via })
        concerned.add(by)
        if (via !== null) concerned.add(via)
      }
    isGrowing = concerned.size > before
    if (isGrowing) flow = graph.flowOf([...concerned])
  }
  return { takings, flow }
}

/** A commit that is taken back, the one whose message says so, and the parents of the one taken back. */
interface Reverted {
  target: string
  by: string
  parents: readonly string[]
}
const revertedByGraph = new WeakMap<CommitGraph, { size: number; list: Reverted[] }>()

/** What the messages in the graph take back, resolved; kept until commits are added. */
export function revertedIn(graph: CommitGraph): readonly Reverted[] {
  const known = revertedByGraph.get(graph)
  if (known && known.size === graph.size) return known.list
  const list: Reverted[] = []
  for (const [by, names] of graph.reverts)
    for (const named of names) {
      const target = graph.resolve(named)
      if (target && target !== by) list.push({ target, by, parents: graph.get(target)?.parents ?? [] })
    }
  revertedByGraph.set(graph, { size: graph.size, list })
  return list
}

function broughtByMerge(graph: CommitGraph, sha: string): Set<string> {
  const [first, ...others] = graph.get(sha)?.parents ?? []
  return first === undefined || others.length === 0 ? new Set() : graph.between(others, [first])
}
