import { Problem } from '@dystracer/core/basics/problem'
import { firstLine } from '@dystracer/core/text/first-line'
import type { Who } from '@dystracer/core/people/who'
import type { CommitRemark, MakeCommitRemark } from '@dystracer/core/reviews/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { findCommit } from '#subjects/code/index'
import { notify } from '#subjects/inbox/index'
import { personByAddress } from '#subjects/people/index'
import { itemsTiedTo } from '#subjects/records/index'
import { reactionsTo } from './change-facts.js'
import { GET_COMMIT_REMARK, LIST_COMMIT_REMARKS } from './commit-remarks.queries.js'

const WORDS_MAX = 120

interface Row extends Omit<CommitRemark, 'place' | 'isSettled' | 'answers' | 'reactions'> {
  path: string | null
  side: 'old' | 'new' | null
  line: number | null
  lastLine: number | null
  replyTo: string | null
}

/** What people remark on a commit, each with its answers, oldest first. Throws `not-found`. */
export function listCommitRemarks(ctx: ServiceContext, who: Who, id: string): { rows: CommitRemark[] } {
  const { repository, sha } = findCommit(ctx, who, id)
  const all = sql(ctx.db, LIST_COMMIT_REMARKS).all<Row>({ repository, sha })
  const reactions = reactionsTo(
    ctx.db,
    all.map(({ remarkId }) => remarkId),
  )
  return {
    rows: all
      .filter(({ replyTo }) => replyTo === null)
      .map(({ path, side, line, lastLine, replyTo: _, ...remark }) => ({
        ...remark,
        place: path === null || side === null || line === null || lastLine === null ? null : { path, side, line, lastLine },
        isSettled: remark.settledBy !== null,
        reactions: reactions(remark.remarkId),
        answers: all
          .filter(({ replyTo }) => replyTo === remark.remarkId)
          .map(({ remarkId, personId, atMs, text }) => ({ remarkId, personId, atMs, text, reactions: reactions(remarkId) })),
      })),
  }
}

/**
 * Remarks on a commit. Whoever wrote it, as far as the address of its author is theirs, and whoever speaks in the same thread is told, by
 * the item that it is tied to. Throws `not-found`, and `not-allowed` for a program: a person remarks.
 */
export function remarkOnCommit(ctx: ServiceContext, who: Who, id: string, { text, place, replyTo }: MakeCommitRemark): void {
  const { repository, sha, author_email: address } = findCommit(ctx, who, id)
  if (who.personId === null) throw new Problem('not-allowed', { detail: 'A person remarks, not a program.' })
  const personId = who.personId
  const asked = replyTo === null ? null : requireCommitRemark(ctx, { repository, sha, remarkId: replyTo })
  // Answers hang on the remark that began it.
  const beganBy = asked === null ? null : (asked.replyTo ?? asked.remarkId)
  const speakers = sql(ctx.db, LIST_COMMIT_REMARKS)
    .all<Row>({ repository, sha })
    .filter((remark) => beganBy !== null && (remark.remarkId === beganBy || remark.replyTo === beganBy))
  const keys = itemsTiedTo(ctx.db, { kind: 'commit', id: `${repository}/${sha}` })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'commit-remarked',
      actor: who.actor,
      subjects: [`commit:${repository}/${sha}`],
      body: {
        repository,
        sha,
        remarkId: ctx.newId(),
        replyTo: beganBy,
        personId,
        place: asked === null ? place : null,
        text,
      },
    })
    const [key] = keys
    if (key !== undefined)
      notify(ctx, writer, {
        key,
        by: who,
        personIds: [personByAddress(ctx.db, address)?.personId ?? null, ...speakers.map((remark) => remark.personId)],
        why: 'review',
        words: `On ${sha.slice(0, 7)}: ${firstLine(text).slice(0, WORDS_MAX)}`,
      })
  })
}

/** Says that a remark on a commit is settled, or is not. Throws `not-found`. */
export function settleCommitRemark(
  ctx: ServiceContext,
  who: Who,
  id: string,
  { remarkId, isSettled }: { remarkId: string; isSettled: boolean },
): void {
  const { repository, sha } = findCommit(ctx, who, id)
  const remark = requireCommitRemark(ctx, { repository, sha, remarkId })
  if ((remark.settledBy !== null) === isSettled) return
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'commit-remark-settled',
      actor: who.actor,
      subjects: [`commit:${repository}/${sha}`],
      body: { repository, sha, remarkId, isSettled },
    })
  })
}

/** Reacts to a remark on a commit or an answer, or takes that back. Throws `not-found`, and `not-allowed` for a program. */
export function reactToCommitRemark(
  ctx: ServiceContext,
  who: Who,
  id: string,
  { remarkId, reaction, isOn }: { remarkId: string; reaction: string; isOn: boolean },
): void {
  const { repository, sha } = findCommit(ctx, who, id)
  requireCommitRemark(ctx, { repository, sha, remarkId })
  if (who.personId === null) throw new Problem('not-allowed', { detail: 'A reaction belongs to a person; sign in as one.' })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'remark-reacted',
      actor: who.actor,
      subjects: [`commit:${repository}/${sha}`],
      body: { remarkId, reaction, isOn },
    })
  })
}

function requireCommitRemark(
  ctx: ServiceContext,
  of: { repository: string; sha: string; remarkId: string },
): { remarkId: string; replyTo: string | null; settledBy: string | null } {
  const remark = sql(ctx.db, GET_COMMIT_REMARK).get<{ remarkId: string; replyTo: string | null; settledBy: string | null }>(of)
  if (!remark) throw new Problem('not-found', { detail: 'This remark is not there.' })
  return remark
}
