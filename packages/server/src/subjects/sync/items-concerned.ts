import { patchesTouchedBy } from '@dystracer/core/code/patch-state'
import type { CommitGraph } from '@dystracer/core/code/commit-graph'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { graphOf, mainTip } from '#subjects/code/index'
import { itemsOfRepository } from '#subjects/records/index'
import type { RefMove } from './ref-move.js'
import { LIST_ITEMS_BY_COMMITS, LIST_ITEMS_OF_BRANCHES, LIST_ITEMS_OF_PULL_REQUESTS } from './repository-sync.queries.js'

/** Past so many commits in a move, asking for each costs more than looking at all items of the repository. */
const COMMITS_MAX = 400

/**
 * The items whose ladder some moves of refs may change: those tied to a commit that came or went, to another carrier of a patch that
 * did (or that was taken back, or brought again), to a pull request with such a commit, or to a branch that moved. A tag may be a
 * release, which every fix of the repository asks after, so it concerns them all. Cost: O(commits that came or went) beside the pull
 * requests that are tied.
 */
export function itemsConcerned(ctx: ServiceContext, repository: string, moves: readonly RefMove[]): string[] {
  if (moves.some((move) => move.ref.startsWith('refs/tags/'))) return itemsOfRepository(ctx, repository)
  const graph = graphOf(ctx, repository)
  const changed = changedCommits(graph, moves, mainTip(ctx.db, repository))
  if (changed.size > COMMITS_MAX) return itemsOfRepository(ctx, repository)
  const carriers = [...patchesTouchedBy(graph, changed)].flatMap((patchId) => graph.carriersOf(patchId))
  const shas = [...new Set([...changed, ...carriers])]
  if (shas.length > COMMITS_MAX) return itemsOfRepository(ctx, repository)
  const tied = sql(ctx.db, LIST_ITEMS_BY_COMMITS).all<{ from_id: string }>({
    ids: JSON.stringify(shas.map((sha) => `${repository}/${sha}`)),
  })
  const branches = moves.map((move) => `${repository}/${move.ref.slice(11)}`)
  const onBranches = sql(ctx.db, LIST_ITEMS_OF_BRANCHES).all<{ from_id: string }>({ ids: JSON.stringify(branches) })
  return [...[...tied, ...onBranches].map((row) => row.from_id), ...itemsOfPullRequests(ctx, { repository, graph, shas, moves })]
}

/** The commits that refs have now and had not before, or the other way round. */
function changedCommits(graph: CommitGraph, moves: readonly RefMove[], main: string | null): Set<string> {
  const changed = new Set<string>()
  for (const { from, to } of moves) {
    // A branch that is new or gone is measured against the main line: what that has stays reachable.
    const [before, after] = [from ?? main, to ?? main]
    for (const [tip, base] of [
      [before, after],
      [after, before],
    ] as const)
      if (tip !== null) for (const sha of graph.between([tip], base === null ? [] : [base])) changed.add(sha)
  }
  return changed
}

interface TiedPullRequest {
  from_id: string
  head: string
  head_sha: string
  merge_sha: string | null
  base_sha: string | null
}
function itemsOfPullRequests(
  ctx: ServiceContext,
  { repository, graph, shas, moves }: { repository: string; graph: CommitGraph; shas: string[]; moves: readonly RefMove[] },
): string[] {
  const heads = new Set(moves.map((move) => move.ref.slice(11)))
  const flow = graph.flowOf(shas)
  const brings = ({ head_sha, merge_sha, base_sha }: TiedPullRequest): boolean => {
    const before = base_sha ?? (merge_sha === null ? undefined : graph.get(merge_sha)?.parents[0])
    const tip = base_sha === null ? (merge_sha ?? head_sha) : head_sha
    return shas.some((sha) => flow.has(tip, sha) && (before === undefined || !flow.has(before, sha)))
  }
  return sql(ctx.db, LIST_ITEMS_OF_PULL_REQUESTS)
    .all<TiedPullRequest>({ repository, from: `${repository}/`, to: `${repository}0` })
    .filter((row) => heads.has(row.head) || brings(row))
    .map((row) => row.from_id)
}
