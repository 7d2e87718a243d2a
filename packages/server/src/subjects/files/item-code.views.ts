import { firstLine } from '@dystracer/core/text/first-line'
import { splitRepositoryId } from '@dystracer/core/basics/node-ref'
import { patchStateAt } from '@dystracer/core/code/patch-state'
import type { ItemCode } from '@dystracer/core/files/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { commitsOfPullRequest, getCommit, graphOf, mainTip, pathsOf, type PullRequestRow } from '#subjects/code/index'
import { mayReadThing, requireItem } from '#subjects/records/index'
import { COUNT_PATH_SINCE, GET_PULL_REQUEST_OF_ITEM, LIST_CODE_OF_ITEM, LIST_RELEASE_OF_REPOSITORY } from './item-code.queries.js'

const COMMITS_MAX = 60
const FILES_MAX = 60
/** Of so many commits it is looked up in which releases they are. */
const PLACED_MAX = 20

interface ReleaseRow {
  service: string
  name: string
  sha: string
}
interface Work {
  repository: string
  sha: string
  subject: string
  author: string
  atMs: number
  files: string[]
}

/**
 * The code of an item over all repositories that the asker may read: its commits with whether they stand on the main line and the first
 * release that holds each (by itself, or as a cherry-pick), its branches and pull requests, and its files with how often others changed
 * them since. Commits that merge are left out: what they brought stands by itself.
 */
export function readItemCode(ctx: ServiceContext, who: Who, key: string): ItemCode {
  const { ends, pullRequests, commits } = codeOfItem(ctx, who, key)
  const work = [...commits.keys()].flatMap((id) => workOf(ctx, id)).sort((a, b) => b.atMs - a.atMs)
  const placed = work.slice(0, PLACED_MAX).map(({ repository }) => repository)
  const releasesOf = new Map(
    [...new Set(placed)].map((repository) => [repository, sql(ctx.db, LIST_RELEASE_OF_REPOSITORY).all<ReleaseRow>({ repository })]),
  )
  return {
    commits: work.slice(0, COMMITS_MAX).map(({ files: _, ...commit }, at) => ({
      ...commit,
      ...(at < PLACED_MAX ? placeOf(ctx, commit, releasesOf.get(commit.repository) ?? []) : { isOnMain: null, release: null }),
    })),
    branches: ends.flatMap(({ kind, id }) => {
      const parts = kind === 'branch' ? splitRepositoryId(id) : null
      return parts ? [{ repository: parts.repository, name: parts.rest }] : []
    }),
    pullRequests: pullRequests.map(({ repository, number, title, state }) => ({ repository, number, title, state })),
    files: filesOf(ctx, work),
  }
}

/** What in code an item is tied to and the asker may read: its pull requests, and all its commits, each with the one that brings it. */
export function codeOfItem(ctx: ServiceContext, who: Who, key: string) {
  requireItem(ctx, key)
  const ends = sql(ctx.db, LIST_CODE_OF_ITEM)
    .all<{ kind: 'commit' | 'branch' | 'pull-request'; id: string }>({ key })
    .filter((end) => mayReadThing(ctx.db, who, end))
  const pullRequests = ends.flatMap(({ kind, id }) => {
    const parts = kind === 'pull-request' ? splitRepositoryId(id) : null
    const row =
      parts && sql(ctx.db, GET_PULL_REQUEST_OF_ITEM).get<PullRequestRow>({ repository: parts.repository, number: Number(parts.rest) })
    return row ? [row] : []
  })
  /** By `{repository}/{sha}`; null for one that is tied by itself alone. */
  const commits = new Map<string, PullRequestRow | null>(ends.filter(({ kind }) => kind === 'commit').map(({ id }) => [id, null]))
  for (const row of pullRequests) for (const sha of commitsOfPullRequest(ctx, row)) commits.set(`${row.repository}/${sha}`, row)
  return { ends, pullRequests, commits }
}

function workOf(ctx: ServiceContext, id: string): Work[] {
  const parts = splitRepositoryId(id)
  const row = parts && getCommit(ctx.db, parts.repository, parts.rest)
  if (!row || (JSON.parse(row.parents) as string[]).length > 1) return []
  return [
    {
      repository: row.repository,
      sha: row.sha,
      subject: firstLine(row.message),
      author: row.author_name,
      atMs: row.committed_at_ms,
      files: pathsOf(row.files),
    },
  ]
}

/** Whether the change of a commit is in effect on the main line, and the oldest release in which it is. */
function placeOf(ctx: ServiceContext, { repository, sha }: { repository: string; sha: string }, releases: readonly ReleaseRow[]) {
  const graph = graphOf(ctx, repository)
  const patchId = graph.get(sha)?.patchId
  const tip = mainTip(ctx.db, repository)
  if (!patchId || tip === null) return { isOnMain: null, release: null }
  const found = releases.findLast((release) => graph.get(release.sha) !== undefined && patchStateAt(graph, release.sha, patchId).isIn)
  return {
    isOnMain: patchStateAt(graph, tip, patchId).isIn,
    release: found ? { id: `${found.service}@${found.name}`, name: found.name, isPick: !graph.isReachable(sha, found.sha) } : null,
  }
}

/** Each file with the item's own commits, and how many of others came after its last one. */
function filesOf(ctx: ServiceContext, work: readonly Work[]): ItemCode['files'] {
  const by = new Map<string, { repository: string; path: string; commits: number; lastAtMs: number }>()
  for (const { repository, atMs, files } of work)
    for (const path of files) {
      const id = `${repository}/${path}`
      const known = by.get(id) ?? { repository, path, commits: 0, lastAtMs: 0 }
      by.set(id, { ...known, commits: known.commits + 1, lastAtMs: Math.max(known.lastAtMs, atMs) })
    }
  return [...by.values()]
    .sort((a, b) => b.commits - a.commits || (a.path < b.path ? -1 : 1))
    .slice(0, FILES_MAX)
    .map(({ repository, path, commits, lastAtMs }) => ({
      repository,
      path,
      commits,
      changedSince: sql(ctx.db, COUNT_PATH_SINCE).get<{ count: number }>({ repository, path, sinceMs: lastAtMs })?.count ?? 0,
    }))
}
