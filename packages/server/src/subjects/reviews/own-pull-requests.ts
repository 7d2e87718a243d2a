import type { MergeMethod } from '@dystracer/core/reviews/events'
import type { CommitGraph } from '@dystracer/core/code/commit-graph'
import type { PullRequestBody } from '@dystracer/core/code/events'
import { patchStateAt } from '@dystracer/core/code/patch-state'
import { Problem } from '@dystracer/core/basics/problem'
import { parseTrailers } from '@dystracer/core/text/trailers'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { identityOf, personByAddress } from '#subjects/people/index'
import { codeHostOf, commitsOfPullRequest, accessOf, getCommit, graphOf, type PullRequestRow } from '#subjects/code/index'
import { fetchUrl, type GitAccess, gitWorker, isGitTrouble, type MergeResult, mirrorDir } from '#subjects/git/index'
import { projectsOfRepository } from '#subjects/records/index'
import { LIST_MEMBERS_OF_PROJECTS } from './reviewing.queries.js'
import { writePullRequest } from './pull-request-ties.js'
import {
  GET_NEXT_PULL_REQUEST_NUMBER,
  GET_REPOSITORY_OF_PULL_REQUEST,
  GET_SHA_OF_BRANCH,
  LIST_OPEN_PULL_REQUEST_OF_OURS,
} from './reviews.queries.js'

/** Branches on which changes are merged to see begin so. */
export const TRIAL_PREFIX = 'queue/'

/** A move of a branch, as the sync tells it. */
interface Move {
  ref: string
  from: string | null
  to: string | null
}
export interface OpenInput {
  repository: string
  source: string
  target?: string | undefined
  title?: string | undefined
  text?: string | undefined
  isDraft?: boolean | undefined
}

/**
 * Opens a pull request that lives here (docs/rules.md#plain-git) and gives its number; that of the one which is open for the branch
 * already. Throws `invalid-input` for a branch that is not there, `conflict` for one that brings nothing.
 */
export function openHere(ctx: ServiceContext, who: Who, input: OpenInput): number {
  const { repository, source } = input
  const base = input.target ?? requireRepository(ctx, repository).main_branch
  const headSha = tipOf(ctx, repository, source)
  if (headSha === null) throw new Problem('invalid-input', { fields: { source: `There is no branch ${source}; push it first` } })
  const baseSha = tipOf(ctx, repository, base)
  if (baseSha === null) throw new Problem('invalid-input', { fields: { target: `There is no branch ${base}` } })
  const known = openOnes(ctx, repository).find((row) => row.head === source && row.base === base)
  if (known) return known.number
  if (graphOf(ctx, repository).between([headSha], [baseSha]).size === 0)
    throw new Problem('conflict', { detail: `${source} has no commit that ${base} lacks.` })
  const pr = newPullRequest(ctx, { repository, head: source, base, headSha, author: identityOf(ctx, who).name })
  const body = { ...pr, title: input.title ?? pr.title, body: input.text ?? '', isDraft: input.isDraft ?? false }
  ctx.journal.write((writer) => writePullRequest(ctx, writer, body, { cause: 'opened here', actor: who.actor }))
  return pr.number
}

/**
 * Merges one that lives here with real git and pushes the result. Throws `conflict` with the files, `changed-meanwhile` where the base
 * moved, `outside-unreachable` with what the remote said. What the next look at the remote shows is what counts.
 */
export async function mergeHere(ctx: ServiceContext, who: Who, row: PullRequestRow, method: MergeMethod): Promise<void> {
  const sha = tipOf(ctx, row.repository, row.base)
  if (sha === null) throw new Problem('conflict', { detail: `The branch ${row.base} is not there any more.` })
  const result = await mergeOnto(ctx, who, row, { method, onto: sha })
  requirePushed(result, row.base)
  if (result.kind === 'merged') await settleMerged(ctx, who, row, { method, sha: result.sha })
}

/**
 * Merges one with a commit by real git and pushes the result: to its base, or as another branch. Throws `conflict` with the files,
 * `outside-unreachable` where git could not.
 */
export async function mergeOnto(
  ctx: ServiceContext,
  who: Who,
  row: PullRequestRow,
  { method, onto, as }: { method: MergeMethod; onto: string; as?: { branch: string; expected: string | null } },
): Promise<MergeResult> {
  const { repository } = row
  const result = await throughGit(() =>
    gitWorker(ctx).call('merge', {
      ...remoteOf(ctx, repository),
      base: { branch: row.base, sha: onto },
      head: row.head_sha,
      message:
        method === 'squash' ? squashMessage(ctx, row) : `Merge ${row.head}: ${row.title}\n\nPull-Request: ${repository}/${row.number}\n`,
      method,
      by: identityOf(ctx, who),
      ...(as && { as }),
    }),
  )
  if (result.kind === 'conflict')
    throw new Problem('conflict', {
      detail:
        `It conflicts with ` +
        `${row.base} in ${result.files.slice(0, 5).join(', ')}${
          result.files.length > 5 ? ' and more' : ''
        }. Merge ${row.base} into ${row.head}, or rebase it, and push.`,
      facts: { files: result.files },
    })
  return result
}

/** Git alone does not show that one commit holds what a branch held: that is known here, and the branch goes so that it counts once. */
export async function settleMerged(
  ctx: ServiceContext,
  who: Who,
  row: PullRequestRow,
  { method, sha }: { method: MergeMethod; sha: string },
): Promise<void> {
  if (method !== 'squash') return
  const merged = nextOf(row, ctx.nowMs(), { state: 'merged', mergeSha: sha, baseSha: null })
  ctx.journal.write((writer) => writePullRequest(ctx, writer, merged, { cause: 'merged here as one commit', actor: who.actor }))
  await takeBranchAway(ctx, row.repository, { branch: row.head, expected: row.head_sha })
}

/** Takes a branch away where it stands as expected; one that moved stays. */
export async function takeBranchAway(
  ctx: ServiceContext,
  repository: string,
  { branch, expected }: { branch: string; expected: string },
): Promise<void> {
  await throughGit(() =>
    gitWorker(ctx).call('deleteRef', {
      ...remoteOf(ctx, repository),
      branch,
      expected,
    }),
  )
}

/** Title and text of the change, and every trailer of its commits once: what they fix, verify and took stays said. */
function squashMessage(ctx: ServiceContext, row: PullRequestRow): string {
  const trailers = commitsOfPullRequest(ctx, row).flatMap((sha) =>
    parseTrailers(getCommit(ctx.db, row.repository, sha)?.message ?? '').map(({ name, value }) => `${name}: ${value}`),
  )
  const lines = [...new Set([...trailers, `Pull-Request: ${row.repository}/${row.number}`])]
  const parts = [row.title, row.body.trim(), lines.join('\n')].filter(Boolean)
  return `${parts.join('\n\n')}\n`
}

/** Makes a branch at the tip of another by pushing it; one that is there already stays. Throws `outside-unreachable`. */
export async function createBranchHere(
  ctx: ServiceContext,
  { repository, branch, from }: { repository: string; branch: string; from: string },
): Promise<void> {
  if (tipOf(ctx, repository, branch) !== null) return
  const sha = tipOf(ctx, repository, from)
  if (sha === null)
    throw new Problem('outside-unreachable', { detail: `The branch ${from} of ${repository} was not read yet. Nothing was changed.` })
  const input = { ...remoteOf(ctx, repository), branch, sha, expected: null }
  const result = await throughGit(() => gitWorker(ctx).call('pushRef', input))
  if (result.kind !== 'moved') requirePushed(result, branch)
}

/**
 * Changes what is said of one that lives here, closes it or opens it again. Throws `conflict` for one that
 * lives elsewhere or is merged.
 */
export function changeHere(
  ctx: ServiceContext,
  who: Who,
  row: PullRequestRow,
  input: {
    title?: string | undefined
    text?: string | undefined
    state?: 'open' | 'closed' | undefined
    isDraft?: boolean | undefined
    target?: string | undefined
  },
): void {
  if (row.is_ours !== 1) throw new Problem('conflict', { detail: 'It lives in its code host; change it there, and it follows here.' })
  if (row.state === 'merged') throw new Problem('conflict', { detail: 'It is merged; a merge is taken back by a commit that reverts it.' })
  if (input.state === 'open' && tipOf(ctx, row.repository, row.head) === null)
    throw new Problem('conflict', { detail: `The branch ${row.head} is not there any more; push it again first.` })
  if (input.target !== undefined && tipOf(ctx, row.repository, input.target) === null)
    throw new Problem('invalid-input', { fields: { target: `There is no branch ${input.target}` } })
  const headSha = tipOf(ctx, row.repository, row.head) ?? row.head_sha
  const next = nextOf(row, ctx.nowMs(), {
    headSha,
    title: input.title ?? row.title,
    body: input.text ?? row.body,
    state: input.state ?? row.state,
    isDraft: input.isDraft ?? row.is_draft === 1,
    base: input.target ?? row.base,
  })
  ctx.journal.write((writer) => writePullRequest(ctx, writer, next, { cause: 'changed here', actor: who.actor }))
}

/**
 * Brings those that live here up to what git shows: a branch merged elsewhere is merged, also by rebase or fast-forward; one deleted
 * unmerged closes it; one that moved is a new version of the change. A branch whose newest commit asks for it by a `Review-by:` trailer
 * gets one. Called inside the write that moved the refs.
 */
export function followPullRequests(
  ctx: ServiceContext,
  writer: JournalWriter,
  { repository, moves, atMs }: { repository: string; moves: readonly Move[]; atMs: number },
): void {
  const moved = new Map(moves.filter((move) => move.ref.startsWith('refs/heads/')).map((move) => [move.ref.slice(11), move]))
  const graph = graphOf(ctx, repository)
  const open = openOnes(ctx, repository)
  for (const row of open) {
    const change = changeByGit(graph, row, { head: moved.get(row.head), base: moved.get(row.base) })
    if (change) writePullRequest(ctx, writer, nextOf(row, atMs, change), { cause: 'git', actor: 'source:git' })
  }
  const asked = [...moved].filter(([branch]) => !open.some((row) => row.head === branch))
  for (const [branch, { to }] of asked) if (to !== null) openAsAsked(ctx, writer, { repository, branch, headSha: to, atMs })
}

function changeByGit(
  graph: CommitGraph,
  row: PullRequestRow,
  { head, base }: { head: Move | undefined; base: Move | undefined },
): Partial<PullRequestBody> | null {
  const headSha = head?.to ?? row.head_sha
  if (base?.to && base.from && isMerged(graph, { headSha, before: base.from, after: base.to }))
    return { state: 'merged', headSha, mergeSha: mergeOf(graph, { headSha, before: base.from, after: base.to }), baseSha: base.from }
  if (head?.to === null) return { state: 'closed' }
  return headSha === row.head_sha ? null : { headSha }
}

interface Merging {
  headSha: string
  /** Where the base stood, and where it stands. */
  before: string
  after: string
}
/** By its commits, or by their patches where they were rebased or picked. */
function isMerged(graph: CommitGraph, { headSha, before, after }: Merging): boolean {
  if (graph.isReachable(headSha, before)) return false
  if (graph.isReachable(headSha, after)) return true
  const patches = [...graph.between([headSha], [before])].flatMap((sha) => graph.get(sha)?.patchId ?? [])
  const isNews = patches.some((patchId) => !patchStateAt(graph, before, patchId).isIn)
  return isNews && patches.every((patchId) => patchStateAt(graph, after, patchId).isIn)
}

/** The commit of the base's own line that brought it. */
function mergeOf(graph: CommitGraph, { headSha, before, after }: Merging): string {
  let found = after
  for (let sha = graph.get(after)?.parents[0]; sha !== undefined && sha !== before; sha = graph.get(sha)?.parents[0])
    if (graph.isReachable(headSha, sha)) found = sha
    else break
  return found
}

function openAsAsked(
  ctx: ServiceContext,
  writer: JournalWriter,
  { repository, branch, headSha, atMs }: { repository: string; branch: string; headSha: string; atMs: number },
): void {
  const mainBranch = requireRepository(ctx, repository).main_branch
  // What is merged to see holds the trailers of what it is made of, and asks for nothing by itself.
  if (branch === mainBranch || branch.startsWith(TRIAL_PREFIX) || codeHostOf(ctx, repository) !== null) return
  const commit = getCommit(ctx.db, repository, headSha)
  const reviewers = parseTrailers(commit?.message ?? '').filter((trailer) => trailer.name.toLowerCase() === 'review-by')
  const baseSha = tipOf(ctx, repository, mainBranch)
  if (!commit || reviewers.length === 0 || baseSha === null) return
  if (graphOf(ctx, repository).between([headSha], [baseSha]).size === 0) return
  const pr = newPullRequest(ctx, { repository, head: branch, base: mainBranch, headSha, author: commit.author_name })
  const body = reviewers.map((trailer) => `Review-by: ${trailer.value}`).join('\n')
  writePullRequest(
    ctx,
    writer,
    { ...pr, body, createdAtMs: atMs, updatedAtMs: atMs },
    { cause: `commit ${headSha.slice(0, 7)}`, actor: 'source:git' },
  )
  const projects = JSON.stringify(projectsOfRepository(ctx.db, repository))
  const members = sql(ctx.db, LIST_MEMBERS_OF_PROJECTS).all<{ personId: string; name: string; email: string }>({ projects })
  const author = personByAddress(ctx.db, commit.author_email)?.personId
  for (const { value } of reviewers) {
    const named = value.trim().toLowerCase()
    const found = members.find((member) => [member.personId, member.name, member.email].some((known) => known.toLowerCase() === named))
    if (!found || found.personId === author) continue
    writer.append({
      kind: 'review-asked',
      actor: 'source:git',
      subjects: [`pull-request:${repository}/${pr.number}`],
      body: { repository, number: pr.number, personId: found.personId, isOn: true },
    })
  }
}

function newPullRequest(
  ctx: ServiceContext,
  input: { repository: string; head: string; base: string; headSha: string; author: string },
): PullRequestBody {
  const { repository } = input
  const nowMs = ctx.nowMs()
  return {
    ...input,
    number: sql(ctx.db, GET_NEXT_PULL_REQUEST_NUMBER).get<{ number: number }>({ repository })?.number ?? 1,
    title: (getCommit(ctx.db, repository, input.headSha)?.message.split('\n')[0] ?? input.head).slice(0, 300),
    body: '',
    state: 'open',
    mergeSha: null,
    createdAtMs: nowMs,
    updatedAtMs: nowMs,
    version: 1,
    isOurs: true,
    baseSha: null,
  }
}

function nextOf(row: PullRequestRow, atMs: number, change: Partial<PullRequestBody>): PullRequestBody {
  return {
    repository: row.repository,
    number: row.number,
    title: row.title,
    body: row.body,
    state: row.state,
    author: row.author,
    head: row.head,
    base: row.base,
    headSha: row.head_sha,
    mergeSha: row.merge_sha,
    createdAtMs: row.created_at_ms,
    updatedAtMs: atMs,
    version: row.version + 1,
    isOurs: true,
    baseSha: row.base_sha,
    isDraft: row.is_draft === 1,
    ...change,
  }
}

function openOnes(ctx: ServiceContext, repository: string): PullRequestRow[] {
  return sql(ctx.db, LIST_OPEN_PULL_REQUEST_OF_OURS).all<PullRequestRow>({ repository })
}

/** The commit at which a branch stands; null where there is none of this name. */
export function tipOf(ctx: ServiceContext, repository: string, branch: string): string | null {
  return sql(ctx.db, GET_SHA_OF_BRANCH).get<{ sha: string | null }>({ repository, branch })?.sha ?? null
}

/** Where a repository lies and what its main line is called. Throws `invalid-input`. */
export function requireRepository(ctx: ServiceContext, repository: string): { url: string; main_branch: string } {
  const row = sql(ctx.db, GET_REPOSITORY_OF_PULL_REQUEST).get<{ url: string; main_branch: string }>({ repository })
  if (!row) throw new Problem('invalid-input', { fields: { repository: `There is no repository ${repository}` } })
  return row
}

/** What git needs to read and push a repository: the copy here, where it lies, and how it opens. Throws `invalid-input`. */
export function remoteOf(ctx: ServiceContext, repository: string): { dir: string; url: string; access: GitAccess | null } {
  const { url } = requireRepository(ctx, repository)
  return { dir: mirrorDir(ctx, repository), url: fetchUrl(ctx, url), access: accessOf(ctx, repository) }
}

/** What git made of it. Throws `outside-unreachable` where git itself could not. */
export async function throughGit<Result>(work: () => Promise<Result>): Promise<Result> {
  try {
    return await work()
  } catch (error) {
    if (error instanceof Error && isGitTrouble(error))
      throw new Problem('outside-unreachable', { detail: `git could not do it: ${error.message}. Nothing was changed.`, cause: error })
    throw error
  }
}

/** Throws where a push was not taken: `changed-meanwhile`, or `outside-unreachable` with the remote's words. */
export function requirePushed(result: MergeResult, branch: string): void {
  if (result.kind === 'moved')
    throw new Problem('changed-meanwhile', { detail: `${branch} moved meanwhile. It is looked at anew; try again.` })
  if (result.kind === 'refused')
    throw new Problem('outside-unreachable', { detail: `The remote did not take ${branch}: ${result.why}. Nothing was changed.` })
}

/** The name, or with a number behind it where such a branch is there already. */
export function freeBranch(ctx: ServiceContext, repository: string, name: string): string {
  for (let count = 1; ; count++) {
    const branch = count === 1 ? name : `${name}-${count}`
    if (tipOf(ctx, repository, branch) === null) return branch
  }
}
