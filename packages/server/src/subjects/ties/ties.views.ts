import { firstLine } from '@dystracer/core/text/first-line'
import type { NodeRef } from '@dystracer/core/basics/node-ref'
import { splitRepositoryId } from '@dystracer/core/basics/node-ref'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { Link } from '@dystracer/core/records/wire'
import type { UnexplainedCommit } from '@dystracer/core/ties/wire'
import type { ServiceContext } from '#platform/context'
import { decodeCursor, pageOf } from '#platform/db/cursor'
import { sql } from '#platform/db/statements'
import { commitsOfPullRequest, graphOf, mainTip, pathsOf, type PullRequestRow } from '#subjects/code/index'
import { hiddenRepositories, maySee, mayReadThing, readLinks } from '#subjects/records/index'
import { proposalContext, proposalsFor, type ProposalContext, type ProposedCommit } from './proposals.js'
import { GET_COMMIT_EXCUSE, LIST_COMMIT_WITHOUT_ITEM, LIST_TIED_PULL_REQUEST } from './ties.queries.js'

/** Older commits are history that nobody will explain any more; the list of commits has them, by the filter `untied`. */
const SINCE_MS = 180 * 86_400_000
/** So many rows are read at once, and so many in all for one page: most of what a repository holds is explained. */
const READ_AT_ONCE = 100
const READ_MAX = 5000

interface Row extends ProposedCommit {
  author_name: string
  committed_at_ms: number
}

/**
 * Commits on main lines of the last half-year that no item asked for, newest first, each with the items
 * that it may be for. A merge needs no item, nor what a pull request brought that is tied to one. A page
 * whose rows run out early goes on by its cursor.
 */
export async function listUnexplained(
  ctx: ServiceContext,
  who: Who,
  input: { repository?: string | undefined; limit: number; cursor?: string | undefined },
): Promise<{ rows: UnexplainedCommit[]; nextCursor: string | null }> {
  const found: Row[] = []
  let after = decodeCursor(input.cursor, 3) ?? [-Number.MAX_SAFE_INTEGER, '', '']
  const isUnexplained = unexplainedIn(ctx, ctx.nowMs() - SINCE_MS)
  for (let read = 0; found.length <= input.limit && read < READ_MAX; ) {
    const rows = sql(ctx.db, LIST_COMMIT_WITHOUT_ITEM).all<Row>({
      a: after[0],
      b: after[1],
      c: after[2],
      repository: input.repository ?? null,
      sinceMs: ctx.nowMs() - SINCE_MS,
      hidden: hiddenRepositories(ctx.db, who),
      limit: READ_AT_ONCE,
    })
    for (const row of rows) if (isUnexplained(row)) found.push(row)
    const last = rows.at(-1)
    if (!last || rows.length < READ_AT_ONCE) break
    read += rows.length
    after = [-last.committed_at_ms, last.repository, last.sha]
  }
  const page = pageOf(
    found,
    input.limit,
    (row) => row,
    (row) => [-row.committed_at_ms, row.repository, row.sha],
  )
  const contexts = new Map<string, ProposalContext>()
  const rows: UnexplainedCommit[] = []
  for (const row of page.rows) {
    const context = contexts.get(row.repository) ?? proposalContext(ctx, row.repository)
    contexts.set(row.repository, context)
    rows.push({
      repository: row.repository,
      sha: row.sha,
      subject: firstLine(row.message),
      author: row.author_name,
      atMs: row.committed_at_ms,
      items: [],
      files: pathsOf(row.files).slice(0, 50),
      proposals: (await proposalsFor(ctx, who, row, context)).map(({ facts, ...shown }) => shown),
    })
  }
  return { rows, nextCursor: page.nextCursor }
}

/** So far back the desk counts, and so many commits it looks at: whoever looks each day has seen the others. */
const LATELY_MS = 7 * 86_400_000
const LATELY_MAX = 100
/** A pull request is merged later than its commits are written. */
const MERGED_WITHIN_MS = 30 * 86_400_000

/** How many commits of the last week came to main lines without an item; at most a hundred. */
export function countUnexplainedLately(ctx: ServiceContext, who: Who): number {
  const rows = sql(ctx.db, LIST_COMMIT_WITHOUT_ITEM).all<Row>({
    a: -Number.MAX_SAFE_INTEGER,
    b: '',
    c: '',
    repository: null,
    sinceMs: ctx.nowMs() - LATELY_MS,
    hidden: hiddenRepositories(ctx.db, who),
    limit: LATELY_MAX,
  })
  return rows.length === 0 ? 0 : rows.filter(unexplainedIn(ctx, ctx.nowMs() - MERGED_WITHIN_MS)).length
}

/** Whether a commit without an item of its own stands on a main line without one, too. */
function unexplainedIn(ctx: ServiceContext, sinceMs: number): (row: Pick<Row, 'repository' | 'sha'>) => boolean {
  const explained = new Map<string, Set<string>>()
  return ({ repository, sha }) => {
    const tip = mainTip(ctx.db, repository)
    if (tip === null || !graphOf(ctx, repository).isReachable(sha, tip)) return false
    const brought = explained.get(repository) ?? explainedByPullRequests(ctx, repository, sinceMs)
    explained.set(repository, brought)
    return !brought.has(sha)
  }
}

/** The commits that merged pull requests brought that are tied to an item. */
function explainedByPullRequests(ctx: ServiceContext, repository: string, sinceMs: number): Set<string> {
  const brought = new Set<string>()
  for (const row of sql(ctx.db, LIST_TIED_PULL_REQUEST).all<PullRequestRow>({ repository, sinceMs })) {
    for (const sha of commitsOfPullRequest(ctx, row)) brought.add(sha)
    if (row.merge_sha !== null) brought.add(row.merge_sha)
  }
  return brought
}

/**
 * What a commit, branch or pull request is tied to, each with who or what says so, as far as the asker may see it. Throws `not-found` where
 * the thing itself is hidden.
 */
export function readTies(ctx: ServiceContext, who: Who, ref: NodeRef): { rows: Link[]; needsNone: boolean } {
  if (!mayReadThing(ctx.db, who, ref)) throw new Problem('not-found', { detail: `There is no ${ref.kind} ${ref.id}.` })
  const parts = ref.kind === 'commit' ? splitRepositoryId(ref.id) : null
  return {
    rows: readLinks(ctx.db, ref).filter(({ from, to }) => [from, to].every((end) => end.kind !== 'item' || maySee(ctx.db, who, end.id))),
    needsNone: parts !== null && sql(ctx.db, GET_COMMIT_EXCUSE).get({ repository: parts.repository, sha: parts.rest }) !== undefined,
  }
}
