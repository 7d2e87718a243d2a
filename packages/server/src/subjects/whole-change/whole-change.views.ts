import { splitRepositoryId } from '@dystracer/core/basics/node-ref'
import type { CommitGraph } from '@dystracer/core/code/commit-graph'
import type { Who } from '@dystracer/core/people/who'
import { firstLine } from '@dystracer/core/text/first-line'
import { chooseCommits, type WorkCommit } from '@dystracer/core/whole-change/choose-commits'
import type { Strand } from '@dystracer/core/whole-change/strands'
import type { ChangePart, WholeChange } from '@dystracer/core/whole-change/wire'
import type { ServiceContext } from '#platform/context'
import { getCommit, graphOf, mainTip, type PullRequestRow } from '#subjects/code/index'
import { codeOfItem } from '#subjects/files/index'
import { gitWorker, isGitTrouble, mirrorDir } from '#subjects/git/index'
import { requireItem } from '#subjects/records/index'

/** So many commits of a repository are read; an item with more is several things. */
const COMMITS_MAX = 300

/**
 * All that was changed for an item, over all repositories that the asker may read: in each, the commits that make it up, and what they did
 * together to each file. Throws `not-found`. Cost: one git program for each repository that reads its commits, and five for each sheet.
 */
export async function readWholeChange(ctx: ServiceContext, who: Who, key: string): Promise<WholeChange> {
  const { title } = requireItem(ctx, key)
  const { pullRequests, commits } = codeOfItem(ctx, who, key)
  const byRepository = new Map<string, Map<string, PullRequestRow | null>>()
  for (const [id, row] of commits) {
    const parts = splitRepositoryId(id)
    if (parts) byRepository.set(parts.repository, (byRepository.get(parts.repository) ?? new Map()).set(parts.rest, row))
  }
  for (const { repository } of pullRequests) if (!byRepository.has(repository)) byRepository.set(repository, new Map())
  const parts: ChangePart[] = []
  let isShort = false
  for (const [repository, tied] of [...byRepository].sort(([a], [b]) => (a < b ? -1 : 1))) {
    const all = comeIn(ctx, repository, { tied, pullRequests: pullRequests.filter((row) => row.repository === repository) })
    isShort ||= all.length > COMMITS_MAX
    parts.push(await partOf(ctx, repository, { commits: all.slice(-COMMITS_MAX), pullRequests }))
  }
  return { key, title, parts, isShort }
}

type Known = WorkCommit & { row: PullRequestRow | null }

/**
 * The commits of an item in a repository, the oldest first. Those of a branch that was merged by making them anew, or as one commit, may be
 * on the main line as commits that nobody tied: these are found by their change, or by the merge, and are among them.
 */
function comeIn(
  ctx: ServiceContext,
  repository: string,
  { tied, pullRequests }: { tied: ReadonlyMap<string, PullRequestRow | null>; pullRequests: readonly PullRequestRow[] },
): Known[] {
  const graph = graphOf(ctx, repository)
  const tip = mainTip(ctx.db, repository)
  const isOnMain = (sha: string) => tip !== null && graph.isReachable(sha, tip)
  const all = new Map(tied)
  for (const row of pullRequests) {
    if (row.state !== 'merged' || row.merge_sha === null) continue
    if ((graph.get(row.merge_sha)?.parents.length ?? 2) > 1) continue
    all.set(row.merge_sha, row)
    for (const sha of graph.between([row.head_sha], tip === null ? [] : [tip])) {
      if (all.has(sha)) all.set(sha, row)
      for (const carrier of carriersOnMain(graph, sha, isOnMain)) all.set(carrier, row)
    }
  }
  return graph.inOrder(all.keys()).map((sha) => {
    const commit = graph.get(sha)
    const row = all.get(sha) ?? null
    return {
      sha,
      row,
      patchId: commit?.patchId ?? null,
      isMerge: (commit?.parents.length ?? 0) > 1,
      isOnMain: isOnMain(sha),
      pullRequest: row && { number: row.number, state: row.state },
    }
  })
}

function carriersOnMain(graph: CommitGraph, sha: string, isOnMain: (sha: string) => boolean): string[] {
  const patchId = graph.get(sha)?.patchId
  return patchId ? graph.carriersOf(patchId).filter(isOnMain) : []
}

async function partOf(
  ctx: ServiceContext,
  repository: string,
  { commits, pullRequests }: { commits: readonly Known[]; pullRequests: readonly PullRequestRow[] },
): Promise<ChangePart> {
  const { chosen, leftOut } = chooseCommits(commits)
  const bySha = new Map(commits.map((commit) => [commit.sha, commit]))
  const openOf = (sha: string) => {
    const of = bySha.get(sha)?.pullRequest
    return of?.state === 'open' ? of.number : null
  }
  const { strands, sheets, trouble } = await filesOf(ctx, repository, chosen)
  return {
    repository,
    commits: chosen.flatMap((sha) => {
      const words = wordsOf(ctx, repository, sha)
      const known = bySha.get(sha)
      return words && known ? [{ ...words, isOnMain: known.isOnMain, pullRequest: known.pullRequest?.number ?? null }] : []
    }),
    leftOut: leftOut.flatMap(({ sha, why, of }) => {
      const words = wordsOf(ctx, repository, sha)
      return words ? [{ ...words, why, of }] : []
    }),
    pullRequests: pullRequests.filter((row) => row.repository === repository).map(({ number, title, state }) => ({ number, title, state })),
    sheets,
    strands: strands.map(({ before, after, shas, sheet }) => ({
      path: (after ?? before)?.path ?? '',
      sheet,
      shas,
      pullRequest: openOf(shas.at(-1) ?? ''),
    })),
    trouble,
  }
}

interface Files {
  strands: Strand[]
  sheets: ChangePart['sheets']
  trouble: string | null
}

/** One repository that cannot be read does not hide what the others hold. */
async function filesOf(ctx: ServiceContext, repository: string, shas: string[]): Promise<Files> {
  try {
    return { ...(await gitWorker(ctx).call('wholeChange', { dir: mirrorDir(ctx, repository), shas })), trouble: null }
  } catch (error) {
    if (!(error instanceof Error && isGitTrouble(error))) throw error
    return { strands: [], sheets: [], trouble: `These commits of ${repository} are not here yet; Code says when it was fetched.` }
  }
}

function wordsOf(ctx: ServiceContext, repository: string, sha: string) {
  const row = getCommit(ctx.db, repository, sha)
  return row && { sha, subject: firstLine(row.message), author: row.author_name, atMs: row.committed_at_ms }
}
