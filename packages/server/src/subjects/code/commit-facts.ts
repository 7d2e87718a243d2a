import type { PullRequest } from '@dystracer/core/code/wire'
import { CommitGraph } from '@dystracer/core/code/commit-graph'
import { patchStateAt } from '@dystracer/core/code/patch-state'
import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'
import { slot, type ServiceContext } from '#platform/context'
import { gitWorker, readGraph } from '#subjects/git/index'
import {
  GET_GIT_COMMIT_BY_REPOSITORY_AND_SHA,
  GET_MAIN_BRANCH,
  GET_NEWEST_BUILD_STATE,
  GET_SHA_OF_GIT_REF_BY_REPOSITORY,
  LIST_AUTHORS_OF_COMMITS,
  LIST_LARGE_REPOSITORIES,
  LIST_LINE_TIPS,
  LIST_GIT_COMMIT_BY_REPOSITORY_AND_PATCH_IDS,
  LIST_SERVICE_BY_REPOSITORY,
} from './code.queries.js'

/** A pull request as its table holds it. */
export interface PullRequestRow {
  repository: string
  number: number
  title: string
  body: string
  state: PullRequest['state']
  author: string
  head: string
  base: string
  head_sha: string
  merge_sha: string | null
  created_at_ms: number
  updated_at_ms: number
  version: number
  is_ours: number
  base_sha: string | null
  is_draft: number
}

const GRAPHS = slot('commit graphs', () => new Map<string, CommitGraph>(), { isOfRows: true })

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

export function getCommit(db: Db, repository: string, sha: string): CommitRow | undefined {
  return sql(db, GET_GIT_COMMIT_BY_REPOSITORY_AND_SHA).get<CommitRow>({ repository, sha })
}

/** The paths among what the index keeps of a commit's files. */
export function pathsOf(files: string): string[] {
  return (JSON.parse(files) as { path: string }[]).map(({ path }) => path)
}

/** The graph of a repository, loaded from the git index on first use; whoever adds to that index adds to it once that is durable. */
export function graphOf(ctx: Pick<ServiceContext, 'use' | 'db'>, repository: string): CommitGraph {
  const known = ctx.use(GRAPHS).get(repository)
  if (known) return known
  const graph = readGraph(ctx.db, repository)
  ctx.use(GRAPHS).set(repository, graph)
  return graph
}

/** A repository with so many commits is read by another thread as the server starts: it would keep people waiting. */
const LARGE_COMMITS = 20_000
const WARM_MS = 10 * 60_000

/** Reads the graphs of large repositories beforehand, off the main thread. Whatever goes wrong, each is still read on first use. */
export async function warmGraphs(ctx: Pick<ServiceContext, 'use' | 'db' | 'log'>): Promise<void> {
  const large = sql(ctx.db, LIST_LARGE_REPOSITORIES).all<{ repository: string }>({ atLeast: LARGE_COMMITS })
  if (large.length === 0) return
  try {
    const input = { repositories: large.map(({ repository }) => repository) }
    const graphs = await gitWorker(ctx).call('readGraphs', input, { deadlineMs: WARM_MS })
    for (const { repository, parts } of graphs) ctx.use(GRAPHS).set(repository, CommitGraph.from(parts))
  } catch (error) {
    ctx.log.warn({ err: error }, 'graphs of large repositories could not be read beforehand')
  }
}

/** What the main line of a repository is called; null where none of this name is connected. */
export function mainBranchOf(db: Db, repository: string): string | null {
  return sql(db, GET_MAIN_BRANCH).get<{ branch: string }>({ repository })?.branch ?? null
}

/** Tip of the main line; null while the repository was never fetched. */
export function mainTip(db: Db, repository: string): string | null {
  return sql(db, GET_SHA_OF_GIT_REF_BY_REPOSITORY).get<{ sha: string | null }>({ repository })?.sha ?? null
}

/** The tips of the branches that count as main, the main line itself first; a line whose branch is gone is not among them. */
export function lineTips(db: Db, repository: string): { branch: string; isMain: boolean; sha: string }[] {
  return sql(db, LIST_LINE_TIPS)
    .all<{ branch: string; isMain: number; sha: string }>({ repository })
    .map((row) => ({ ...row, isMain: row.isMain === 1 }))
}

/** Whether every patch stands at the tip. */
export function containsAll(graph: CommitGraph, tip: string, patchIds: readonly string[]): boolean {
  return patchIds.length > 0 && patchIds.every((patchId) => patchStateAt(graph, tip, patchId).isIn)
}

/**
 * The commits that a pull request brings: from its head down to what its base has (after the merge: what the merge brought). Newest first
 * is not promised.
 */
export function commitsOfPullRequest(
  ctx: Pick<ServiceContext, 'use' | 'db'>,
  pr: { repository: string; head_sha: string; merge_sha: string | null; base_sha: string | null },
): string[] {
  const graph = graphOf(ctx, pr.repository)
  // One that lives here remembers where its base stood: that tells what it brought however git was used to merge it.
  if (pr.base_sha !== null) return [...graph.between([pr.head_sha], [pr.base_sha])]
  const mergeParents = pr.merge_sha ? graph.get(pr.merge_sha)?.parents : undefined
  if (pr.merge_sha && mergeParents && mergeParents.length < 2) return [pr.merge_sha]
  const base = mergeParents?.[0] ?? mainTip(ctx.db, pr.repository)
  return [...graph.between([pr.head_sha], base ? [base] : [])]
}

/** Forgets the graphs, as a start of the server does: each is loaded anew when it is asked for. */
export function forgetGraphs(ctx: Pick<ServiceContext, 'use'>): void {
  ctx.use(GRAPHS).clear()
}

/**
 * The services of a repository that changes count for (docs/rules.md#service): all of it where none is built from a folder; else those
 * whose folder the changes touch, and those that are built from the whole
 * repository. Changes outside of every folder, as of shared code, count for all.
 */
export function servicesTouched(ctx: Pick<ServiceContext, 'db'>, repository: string, patchIds: readonly string[]): ReadonlySet<string> {
  const services = sql(ctx.db, LIST_SERVICE_BY_REPOSITORY).all<{
    name: string
    folder: string
  }>({ repository })
  const all = new Set(services.map((service) => service.name))
  if (services.every((service) => service.folder === '')) return all
  const files = sql(ctx.db, LIST_GIT_COMMIT_BY_REPOSITORY_AND_PATCH_IDS)
    .all<{ files: string }>({ repository, patchIds: JSON.stringify(patchIds) })
    .flatMap((row) => pathsOf(row.files))
  const isIn = (folder: string) => files.some((path) => path.startsWith(`${folder}/`))
  const isShared = files.some((path) => !services.some(({ folder }) => folder !== '' && path.startsWith(`${folder}/`)))
  if (isShared || files.length === 0) return all
  return new Set(services.filter(({ folder }) => folder === '' || isIn(folder)).map((service) => service.name))
}

/** The people whose addresses stand as authors of some commits. */
export function authorsOfCommits(db: Db, repository: string, shas: readonly string[]): Set<string> {
  return new Set(
    sql(db, LIST_AUTHORS_OF_COMMITS)
      .all<{ personId: string }>({ repository, shas: JSON.stringify(shas) })
      .map(({ personId }) => personId),
  )
}

/** How the newest build of a commit stands; null where none was reported. */
export function newestBuildState(db: Db, repository: string, sha: string): string | null {
  return sql(db, GET_NEWEST_BUILD_STATE).get<{ state: string }>({ repository, sha })?.state ?? null
}
