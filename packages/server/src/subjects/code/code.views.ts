import { firstLine } from '@dystracer/core/text/first-line'
import type { Who } from '@dystracer/core/people/who'
import { Problem } from '@dystracer/core/basics/problem'
import type { Repository, CommitSummary, Commit, PullRequest, PullRequestDetail } from '@dystracer/core/code/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { latestBuild } from './build-state.js'
import { type CommitRow, graphOf, commitsOfPullRequest, mainTip, type PullRequestRow } from './commit-facts.js'
import {
  GET_GIT_COMMIT_BY_REPOSITORY_AND_SHA,
  HAS_BUILD_OF_REPOSITORY,
  IS_BROKEN_BY_ASIDE,
  LIST_GIT_COMMIT_BY_PREFIX_AND_REPOSITORY,
  LIST_GIT_REF_BY_NAME,
  LIST_GIT_REF_BY_REPOSITORY,
  LIST_PULL_REQUEST_BY_NUMBER_AND_REPOSITORY,
  LIST_PULL_REQUEST_BY_REPOSITORY,
  LIST_REPOSITORY,
} from './code.queries.js'
import { codeHostOf } from './code-host.slot.js'
import { fetchUrl, gitWorker, isGitTrouble, mirrorDir, reading } from '#subjects/git/index'
import { accessKindOf } from './repository-access.js'
import { hiddenRepositories, projectsOfRepository, visibleItemsTiedTo } from '#subjects/records/index'
import { mayIn } from '@dystracer/core/people/standing'

interface RepositoryRow {
  name: string
  url: string
  main_branch: string
  long_lines: string
  fetched_at_ms: number | null
  trouble: string | null
  retry_at_ms: number | null
  disconnected_at_ms: number | null
}
export function listRepositories(ctx: ServiceContext, who: Who): Repository[] {
  const rows = sql(ctx.db, LIST_REPOSITORY).all<RepositoryRow>({ hidden: hiddenRepositories(ctx.db, who) })
  return rows.map((row) => ({
    repository: row.name,
    mainBranch: row.main_branch,
    longLines: JSON.parse(row.long_lines) as string[],
    url: fetchUrl(ctx, row.url),
    commits: graphOf(ctx, row.name).size,
    fetchedAtMs: row.fetched_at_ms,
    trouble: row.trouble,
    retryAtMs: row.retry_at_ms,
    disconnectedAtMs: row.disconnected_at_ms,
    keepsPullRequests: codeHostOf(ctx, row.name) === null,
    reading: reading(ctx).get(row.name) ?? null,
    projects: projectsOfRepository(ctx.db, row.name).filter((project) => mayIn(who, 'project.read', project)),
    access: accessKindOf(ctx, row.name),
    branches: sql(ctx.db, LIST_GIT_REF_BY_NAME)
      .all<{ ref: string; sha: string; moved_at_ms: number; forced_at_ms: number | null }>({ name: row.name })
      .map((ref) => {
        const name = ref.ref.slice(11)
        return {
          repository: row.name,
          name,
          sha: ref.sha,
          atMs: ref.moved_at_ms,
          isMain: name === row.main_branch,
          items: visibleItemsTiedTo(ctx.db, who, { kind: 'branch', id: `${row.name}/${name}` }),
          forcedAtMs: ref.forced_at_ms,
        }
      }),
  }))
}
export function toCommitSummary(ctx: ServiceContext, who: Who, row: CommitRow): CommitSummary {
  return {
    repository: row.repository,
    sha: row.sha,
    subject: firstLine(row.message),
    author: row.author_name,
    atMs: row.committed_at_ms,
    items: visibleItemsTiedTo(ctx.db, who, { kind: 'commit', id: `${row.repository}/${row.sha}` }),
  }
}
/** The commit that a hash, its beginning, or `repository/hash` means; a beginning that fits several is answered with the choices. */
export function findCommit(ctx: ServiceContext, who: Who, text: string): CommitRow {
  const match = /^(?:([\w.-]+)\/)?([0-9a-f]{4,64})$/i.exec(text)
  if (!match) throw new Problem('not-found', { detail: `"${text}" is not a commit's hash.` })
  const prefix = (match[2] ?? '').toLowerCase()
  const rows = sql(ctx.db, LIST_GIT_COMMIT_BY_PREFIX_AND_REPOSITORY).all<CommitRow>({
    prefix,
    repository: match[1] ?? null,
    hidden: hiddenRepositories(ctx.db, who),
  })
  const [first] = rows
  if (!first) throw new Problem('not-found', { detail: `No indexed repository has a commit ${text}.` })
  if (rows.length > 1)
    throw new Problem('ambiguous-reference', {
      detail: `${rows.length} commits begin so.`,
      facts: { choices: rows.map((row) => `${row.repository}/${row.sha}`) },
    })
  return first
}
export function readCommit(ctx: ServiceContext, who: Who, text: string): Commit {
  const row = findCommit(ctx, who, text)
  const graph = graphOf(ctx, row.repository)
  const refs = sql(ctx.db, LIST_GIT_REF_BY_REPOSITORY).all<{ ref: string; sha: string }>({ repository: row.repository })
  const containing = refs.filter((ref) => graph.isReachable(row.sha, ref.sha)).map((ref) => ref.ref)
  return {
    ...toCommitSummary(ctx, who, row),
    message: row.message,
    parents: JSON.parse(row.parents) as string[],
    files: JSON.parse(row.files) as Commit['files'],
    branches: containing.filter((ref) => ref.startsWith('refs/heads/')).map((ref) => ref.slice(11)),
    releases: containing.filter((ref) => ref.startsWith('refs/tags/')).map((ref) => ref.slice(10)),
    pullRequests: sql(ctx.db, LIST_PULL_REQUEST_BY_REPOSITORY)
      .all<PullRequestRow>({ repository: row.repository })
      .filter((pr) => commitsOfPullRequest(ctx, pr).includes(row.sha))
      .map((pr) => pr.number),
  }
}
export function readCommitDiff(ctx: ServiceContext, who: Who, text: string): Promise<{ diff: string; isCut: boolean }> {
  const row = findCommit(ctx, who, text)
  return diffOf(ctx, row.repository, { from: null, to: row.sha })
}
export function toPullRequest(ctx: ServiceContext, who: Who, row: PullRequestRow): PullRequest {
  return {
    repository: row.repository,
    number: row.number,
    title: row.title,
    state: row.state,
    isDraft: row.is_draft === 1,
    author: row.author,
    head: row.head,
    base: row.base,
    headSha: row.head_sha,
    mergeSha: row.merge_sha,
    createdAtMs: row.created_at_ms,
    updatedAtMs: row.updated_at_ms,
    items: visibleItemsTiedTo(ctx.db, who, { kind: 'pull-request', id: `${row.repository}/${row.number}` }),
    build: latestBuild(ctx, row.repository, row.head_sha),
  }
}
/** A pull request by `repository/58`; a bare number that fits several is answered with the choices. */
export function readPullRequest(ctx: ServiceContext, who: Who, text: string): PullRequestDetail {
  const row = findPullRequest(ctx, who, text)
  const commits = commitsOfPullRequest(ctx, row).flatMap((sha) => {
    const commit = sql(ctx.db, GET_GIT_COMMIT_BY_REPOSITORY_AND_SHA).get<CommitRow>({
      repository: row.repository,
      sha,
    })
    return commit ? [toCommitSummary(ctx, who, commit)] : []
  })
  const summary = toPullRequest(ctx, who, row)
  return {
    ...summary,
    body: row.body,
    commits: commits.sort((a, b) => a.atMs - b.atMs),
    isOurs: row.is_ours === 1,
    missing: buildTrouble(ctx, summary, row.is_ours === 1),
  }
}
/** What its builds keep a pull request from being merged for, as what to do; null where nothing does (docs/rules.md#gates). */
export function buildTrouble(ctx: ServiceContext, { build, state, repository }: PullRequest, isOurs: boolean): string | null {
  if (state !== 'open') return `It is ${state} already.`
  if (build?.state === 'passed') return null
  // What breaks by tests alone that people set aside, breaks nothing.
  const today = new Date(ctx.nowMs()).toISOString().slice(0, 10)
  if (build?.state === 'broke' && sql(ctx.db, IS_BROKEN_BY_ASIDE).get({ repository, number: build.number, today })) return null
  if (build?.state === 'broke') return `Build ${build.name} broke; mend it and push again.`
  // Of a repository that plain git alone reaches nobody waits for builds that nobody reports.
  if (isOurs && !sql(ctx.db, HAS_BUILD_OF_REPOSITORY).get({ repository })) return null
  return 'No build of its newest commit has passed yet.'
}

export function findPullRequest(ctx: ServiceContext, who: Who, text: string): PullRequestRow {
  const match = /^(?:([\w.-]+)\/)?(\d{1,9})$/.exec(text)
  const rows = match
    ? sql(ctx.db, LIST_PULL_REQUEST_BY_NUMBER_AND_REPOSITORY).all<PullRequestRow>({
        number: Number(match[2]),
        repository: match[1] ?? null,
        hidden: hiddenRepositories(ctx.db, who),
      })
    : []
  const [first] = rows
  if (!first) throw new Problem('not-found', { detail: `There is no pull request ${text}.` })
  if (rows.length > 1)
    throw new Problem('ambiguous-reference', {
      detail: `${rows.length} repositories have a pull request ${text}.`,
      facts: { choices: rows.map((row) => `${row.repository}/${row.number}`) },
    })
  return first
}
export function readPullRequestDiff(ctx: ServiceContext, who: Who, text: string): Promise<{ diff: string; isCut: boolean }> {
  const row = findPullRequest(ctx, who, text)
  const graph = graphOf(ctx, row.repository)
  const base = row.base_sha ?? ((row.merge_sha && graph.get(row.merge_sha)?.parents[0]) || mainTip(ctx.db, row.repository))
  return diffOf(ctx, row.repository, { from: base, to: row.head_sha })
}

/** Throws `outside-unreachable` where the copy that is kept here does not hold the commits: never fetched yet, or its host is down. */
async function diffOf(
  ctx: ServiceContext,
  repository: string,
  ends: { from: string | null; to: string },
): Promise<{ diff: string; isCut: boolean }> {
  try {
    return await gitWorker(ctx).call('diff', { dir: mirrorDir(ctx, repository), ...ends })
  } catch (error) {
    if (error instanceof Error && isGitTrouble(error))
      throw new Problem('outside-unreachable', {
        detail: `These commits of ${repository} are not here yet; Code says when it was fetched.`,
        cause: error,
      })
    throw error
  }
}
