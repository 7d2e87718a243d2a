import { CommitGraph, type GraphCommit, type GraphParts } from '@dystracer/core/code/commit-graph'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { LIST_GRAPH_COMMITS, LIST_GRAPH_COMMITS_OF_LARGE } from './git.queries.js'

/** What the index of commits keeps for the graph. */
export interface GraphRow {
  sha: string
  /** JSON, as `reverts` is. */
  parents: string
  patch_id: string | null
  reverts: string
}

export function toGraphCommit(row: GraphRow): GraphCommit {
  return {
    sha: row.sha,
    parents: JSON.parse(row.parents) as string[],
    patchId: row.patch_id,
    reverts: row.reverts === '[]' ? [] : (JSON.parse(row.reverts) as string[]),
  }
}

/** The graph of a repository as the index has it. O(commits); a few microseconds for each. */
export function readGraph(db: Db, repository: string): CommitGraph {
  const graph = new CommitGraph()
  for (const row of sql(db, LIST_GRAPH_COMMITS).iterate<GraphRow>({ repository })) graph.add(toGraphCommit(row))
  return graph
}

/** The graphs of some large repositories, taken apart for the server, in one pass over the index. O(all commits). */
export function readLargeGraphs(db: Db, repositories: readonly string[]): { repository: string; parts: GraphParts }[] {
  const graphs = new Map(repositories.map((repository) => [repository, new CommitGraph()]))
  const rows = sql(db, LIST_GRAPH_COMMITS_OF_LARGE).iterate<GraphRow & { repository: string }>({
    repositories: JSON.stringify(repositories),
  })
  for (const row of rows) graphs.get(row.repository)?.add(toGraphCommit(row))
  return [...graphs].map(([repository, graph]) => ({ repository, parts: graph.takeApart() }))
}
