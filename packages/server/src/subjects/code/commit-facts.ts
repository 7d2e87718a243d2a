import { graphs } from './graphs.js'
import { CommitGraph, type GraphCommit } from '@dystracer/core/code/commit-graph'
import { patchStateAt } from '@dystracer/core/code/patch-state'
import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'
import type { ServiceContext } from '#platform/context'

export interface CommitRow {
  repository: string
  sha: string
  parents: string
  patch_id: string | null
  author_name: string
  author_email: string
  author_at_ms: number
  committed_at_ms: number
  message: string
  reverts: string
  files: string
  seen_at_ms: number | null
}
export const COMMIT_COLUMNS =
  'repository, sha, parents, patch_id, author_name, author_email, author_at_ms, committed_at_ms, message, reverts, files, seen_at_ms'

export function getCommit(db: Db, repository: string, sha: string): CommitRow | undefined {
  return sql<object, CommitRow>(db, `SELECT ${COMMIT_COLUMNS} FROM git_commit WHERE repository = @repository AND sha = @sha`).get({ repository, sha })
}

/** The graph of a repository, loaded from the git index on first use. */
export function graphOf(ctx: Pick<ServiceContext, 'use' | 'db'>, repository: string): CommitGraph {
  const known = graphs(ctx).get(repository)
  if (known) return known
  const graph = new CommitGraph()
  for (const row of sql<object, CommitRow>(ctx.db, `SELECT ${COMMIT_COLUMNS} FROM git_commit WHERE repository = @repository`).iterate({ repository }))
    graph.add(toGraphCommit(row))
  graphs(ctx).set(repository, graph)
  return graph
}

export function toGraphCommit(row: Pick<CommitRow, 'sha' | 'parents' | 'patch_id' | 'reverts'>): GraphCommit {
  return { sha: row.sha, parents: JSON.parse(row.parents) as string[], patchId: row.patch_id, reverts: JSON.parse(row.reverts) as string[] }
}

/** Tip of the main line; null while the repository was never fetched. */
export function mainTip(db: Db, repository: string): string | null {
  return (
    sql<object, { sha: string | null }>(
      db,
      `SELECT g.sha FROM git_ref g JOIN repository r ON r.name = g.repository
    WHERE g.repository = @repository AND g.ref = 'refs/heads/' || r.main_branch AND g.deleted_at_ms IS NULL`,
    ).get({ repository })?.sha ?? null
  )
}

/** Whether every patch stands at the tip. */
export function containsAll(graph: CommitGraph, tip: string, patchIds: readonly string[]): boolean {
  return patchIds.length > 0 && patchIds.every((patchId) => patchStateAt(graph, tip, patchId).isIn)
}

/** The commits that a pull request brings: from its head down to what its base has (after the merge: what the merge brought). Newest first is not promised. */
export function commitsOfPullRequest(
  ctx: Pick<ServiceContext, 'use' | 'db'>,
  pr: { repository: string; head_sha: string; merge_sha: string | null },
): string[] {
  const graph = graphOf(ctx, pr.repository)
  const mergeParents = pr.merge_sha ? graph.get(pr.merge_sha)?.parents : undefined
  if (pr.merge_sha && mergeParents && mergeParents.length < 2) return [pr.merge_sha]
  const base = mergeParents?.[0] ?? mainTip(ctx.db, pr.repository)
  const before = base ? graph.reachableFrom(base) : new Set<string>()
  return [...graph.walk([pr.head_sha], (sha) => before.has(sha))]
}
