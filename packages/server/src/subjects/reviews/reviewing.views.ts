import type { PullRequest } from '@dystracer/core/code/wire'
import type { MergeMethod } from '@dystracer/core/reviews/events'
import { followLine, readPieces, type ChangedPiece } from '@dystracer/core/reviews/follow-line'
import type { Remark, Review } from '@dystracer/core/reviews/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { findPullRequest, type PullRequestRow, toPullRequest } from '#subjects/code/index'
import { gitWorker, isGitTrouble, mirrorDir } from '#subjects/git/index'
import { mayReadThing, projectsOfRepository } from '#subjects/records/index'
import { authorsOf, idOf, reactionsTo } from './change-facts.js'
import { gatesOf } from './gates.views.js'
import { hostStatusOf } from './host-statuses.commands.js'
import {
  GET_MERGE_WISH,
  LIST_ENTRIES_OF_PULL_REQUEST,
  LIST_MEMBERS_OF_PROJECTS,
  LIST_REMARKS,
  LIST_REQUIREMENTS_OF_ITEMS,
  LIST_REVIEW_ASKS,
} from './reviewing.queries.js'

type Of = Pick<PullRequestRow, 'repository' | 'number'>
interface RemarkRow {
  remark_id: string
  reply_to: string | null
  person_id: string
  path: string | null
  line: number | null
  last_line: number | null
  side: 'old' | 'new' | null
  sha: string | null
  text: string
  instead: string | null
  at_ms: number
  settled_by: string | null
  settled_at_ms: number | null
}
/** Files whose lines are followed for one answer; remarks on more stand where they were made. */
const FOLLOWED_MAX = 60

/** Everything that is said about a change, with remarks where their lines stand now. Throws `not-found`. */
export async function readReview(ctx: ServiceContext, who: Who, id: string): Promise<Review> {
  const row = findPullRequest(ctx, who, id)
  const summary = toPullRequest(ctx, who, row)
  const { gates, verdicts } = await gatesOf(ctx, who, row)
  const authors = authorsOf(ctx, row)
  const members = sql(ctx.db, LIST_MEMBERS_OF_PROJECTS).all<{ personId: string }>({
    projects: JSON.stringify(projectsOfRepository(ctx.db, row.repository)),
  })
  return {
    asked: sql(ctx.db, LIST_REVIEW_ASKS).all<Review['asked'][number]>(idOf(row)),
    verdicts: verdicts.map(({ personId, verdict, words, atMs, fell }) => ({ personId, verdict, words, atMs, fell })),
    remarks: await remarksOf(ctx, row),
    gates: row.state === 'open' ? gates : [],
    atHost: hostStatusOf(ctx, row),
    canAgree: members.map(({ personId }) => personId).filter((personId) => !authors.has(personId)),
    wish: sql(ctx.db, GET_MERGE_WISH).get<{ by: string; method: MergeMethod; atMs: number }>(idOf(row)) ?? null,
    requirements: requirementsOf(ctx, who, summary),
    happened: happenedTo(ctx, row),
  }
}

async function remarksOf(ctx: ServiceContext, row: PullRequestRow): Promise<Remark[]> {
  const rows = sql(ctx.db, LIST_REMARKS).all<RemarkRow>(idOf(row))
  const follow = await followerOf(ctx, row, rows)
  const reactions = reactionsTo(
    ctx.db,
    rows.map(({ remark_id }) => remark_id),
  )
  return rows
    .filter((remark) => remark.reply_to === null)
    .map((remark) => ({
      remarkId: remark.remark_id,
      personId: remark.person_id,
      atMs: remark.at_ms,
      text: remark.text,
      place: placeOf(remark),
      now: follow(remark),
      instead: remark.instead,
      isSettled: remark.settled_at_ms !== null,
      settledBy: remark.settled_by,
      reactions: reactions(remark.remark_id),
      answers: rows
        .filter((answer) => answer.reply_to === remark.remark_id)
        .map((answer) => ({
          remarkId: answer.remark_id,
          personId: answer.person_id,
          atMs: answer.at_ms,
          text: answer.text,
          reactions: reactions(answer.remark_id),
        })),
    }))
}

function placeOf({ path, line, last_line, side, sha }: RemarkRow): Remark['place'] {
  return path === null || line === null || last_line === null || side === null || sha === null
    ? null
    : { path, line, lastLine: last_line, side, sha }
}

/** Where the lines of each remark stand at the newest commit: git says what became of each file since. The old side does not move. */
async function followerOf(
  ctx: ServiceContext,
  row: PullRequestRow,
  remarks: readonly RemarkRow[],
): Promise<(remark: RemarkRow) => Remark['now']> {
  const keyOf = (remark: RemarkRow) => `${remark.sha}\0${remark.path}`
  const moved = new Map(
    remarks
      .filter((remark) => remark.side === 'new' && remark.sha !== row.head_sha && remark.path !== null)
      .map((remark) => [keyOf(remark), remark]),
  )
  const pieces = new Map<string, ChangedPiece[] | null>()
  await Promise.all(
    [...moved].slice(0, FOLLOWED_MAX).map(async ([key, { sha, path }]) => {
      pieces.set(key, await piecesOf(ctx, row, { from: sha ?? '', path: path ?? '' }))
    }),
  )
  return (remark) => {
    const { line, last_line: lastLine } = remark
    if (line === null || lastLine === null) return null
    if (remark.side === 'old' || remark.sha === row.head_sha) return { line, lastLine }
    const changed = pieces.get(keyOf(remark))
    if (!changed) return null
    const [first, last] = [followLine(line, changed), followLine(lastLine, changed)]
    return first === null || last === null ? null : { line: first, lastLine: last }
  }
}

/** Null where git does not have the commit any more: the branch was rewritten and tidied. */
async function piecesOf(
  ctx: ServiceContext,
  row: PullRequestRow,
  { from, path }: { from: string; path: string },
): Promise<ChangedPiece[] | null> {
  try {
    return readPieces(await gitWorker(ctx).call('fileChange', { dir: mirrorDir(ctx, row.repository), from, to: row.head_sha, path }))
  } catch (error) {
    if (error instanceof Error && isGitTrouble(error)) return null
    throw error
  }
}

function requirementsOf(ctx: ServiceContext, who: Who, { items }: PullRequest): Review['requirements'] {
  return sql(ctx.db, LIST_REQUIREMENTS_OF_ITEMS)
    .all<{ key: string; title: string }>({ items: JSON.stringify(items) })
    .filter(({ key }) => mayReadThing(ctx.db, who, { kind: 'requirement', id: key }))
    .map(({ key, title }) => ({ key, title }))
}

/** What happened to it, newest first; what only repeats its text is left out. */
function happenedTo(ctx: ServiceContext, row: Of): Review['happened'] {
  return sql(ctx.db, LIST_ENTRIES_OF_PULL_REQUEST)
    .all<{ seq: number; kind: string; atMs: number; actor: string; body: string }>({
      subject: `pull-request:${row.repository}/${row.number}`,
    })
    .map(({ seq, kind, atMs, actor, body }) => {
      const { body: _text, text: _words, patches: _patches, ...facts } = JSON.parse(body) as Record<string, unknown>
      return { seq, kind, atMs, by: actor, facts }
    })
}
