import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { MergeGates, MergeMethod, RemarkPlace } from '@dystracer/core/reviews/events'
import type { GiveReview, zMakeRemark } from '@dystracer/core/reviews/wire'
import type { z } from 'zod'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { findPullRequest, mainTip, type PullRequestRow } from '#subjects/code/index'
import { requireRightInOneOf } from '#subjects/people/index'
import { itemsTiedTo, projectsOfRepository } from '#subjects/records/index'
import { mergeNow } from './pull-requests.commands.js'
import { GET_MERGE_WISH, GET_REMARK, HAS_REVIEW_ASK, LIST_MEMBERS_OF_PROJECTS } from './reviewing.queries.js'
import { authorsOf, idOf, patchesOf } from './change-facts.js'
import { gatesOf, readRepositoryGates } from './gates.views.js'

type MakeRemark = z.output<typeof zMakeRemark>

/** Asks a member to look at a change, or asks no more. Throws `not-found`, `invalid-input` for who is no member or wrote it. */
export function askReview(ctx: ServiceContext, who: Who, id: string, { personId, isOn }: { personId: string; isOn: boolean }): void {
  const row = requireOpen(ctx, who, id)
  if (isOn && !membersOf(ctx, row).includes(personId))
    throw new Problem('invalid-input', { fields: { personId: 'They are no member of a project that uses it' } })
  if (isOn && authorsOf(ctx, row).has(personId))
    throw new Problem('invalid-input', { fields: { personId: 'They wrote part of it themselves' } })
  if ((sql(ctx.db, HAS_REVIEW_ASK).get({ ...idOf(row), personId }) !== undefined) === isOn) return
  write(ctx, who, row, (writer, common) => writer.append({ ...common, kind: 'review-asked', body: { ...idOf(row), personId, isOn } }))
}

/**
 * Says what one thinks of a change, with all remarks at once. Whoever wrote a commit of it cannot agree (docs/rules.md#approvals). Throws
 * `not-found`, `conflict` for one's own work, `invalid-input`.
 */
export function giveReview(ctx: ServiceContext, who: Who, id: string, input: GiveReview): void {
  const row = requireOpen(ctx, who, id)
  const personId = personOf(who)
  if (input.verdict === 'agreed' && authorsOf(ctx, row).has(personId))
    throw new Problem('conflict', { detail: 'You wrote part of it: somebody else has to agree to it.' })
  if (input.verdict === 'remarked' && input.words === '' && input.remarks.length === 0)
    throw new Problem('invalid-input', { fields: { words: 'Write what you found' } })
  write(ctx, who, row, (writer, common) => {
    for (const remark of input.remarks) writeRemark(ctx, writer, { row, personId, common }, remark)
    writer.append({
      ...common,
      kind: 'review-given',
      body: {
        ...idOf(row),
        reviewId: ctx.newId(),
        personId,
        verdict: input.verdict,
        words: input.words.trim(),
        headSha: row.head_sha,
        patches: patchesOf(ctx, row),
      },
    })
    if (sql(ctx.db, HAS_REVIEW_ASK).get({ ...idOf(row), personId }) !== undefined && input.verdict !== 'remarked')
      writer.append({ ...common, kind: 'review-asked', body: { ...idOf(row), personId, isOn: false } })
  })
}

/** Remarks on lines, the whole, or in answer. Gives its id. Throws `not-found`, `invalid-input`. */
export function makeRemark(ctx: ServiceContext, who: Who, id: string, input: MakeRemark): void {
  const row = findPullRequest(ctx, who, id)
  const personId = personOf(who)
  write(ctx, who, row, (writer, common) => writeRemark(ctx, writer, { row, personId, common }, input))
}

/** Says that a remark is settled, or is not. Throws `not-found`. */
export function settleRemark(
  ctx: ServiceContext,
  who: Who,
  id: string,
  { remarkId, isSettled }: { remarkId: string; isSettled: boolean },
): void {
  const row = findPullRequest(ctx, who, id)
  const remark = requireRemark(ctx, row, remarkId)
  if ((remark.settled_at_ms !== null) === isSettled) return
  write(ctx, who, row, (writer, common) =>
    writer.append({ ...common, kind: 'remark-settled', body: { ...idOf(row), remarkId, isSettled } }),
  )
}

/** Reacts to a remark or an answer, or takes that back. Throws `not-found`, and `not-allowed` for a program. */
export function reactToRemark(
  ctx: ServiceContext,
  who: Who,
  id: string,
  { remarkId, reaction, isOn }: { remarkId: string; reaction: string; isOn: boolean },
): void {
  const row = findPullRequest(ctx, who, id)
  requireRemark(ctx, row, remarkId)
  personOf(who)
  write(ctx, who, row, (writer, common) => writer.append({ ...common, kind: 'remark-reacted', body: { remarkId, reaction, isOn } }))
}

/**
 * Merges where every gate holds; else wants it merged once they do, or, with a reason and by somebody who may, merges past those that do
 * not. `method` null wants it no more. Throws what merging throws, `not-allowed`.
 */
export async function wantMerge(
  ctx: ServiceContext,
  who: Who,
  id: string,
  { method, passOver }: { method: MergeMethod | null; passOver: string },
): Promise<'merged' | 'waits' | 'dropped'> {
  const row = requireOpen(ctx, who, id)
  if (method === null) {
    dropWish(ctx, who, row, null)
    return 'dropped'
  }
  if (method !== 'merge' && row.is_ours !== 1)
    throw new Problem('conflict', { detail: 'It lives in its code host, which merges in its own way; choose “merge”.' })
  const unmet = (await gatesOf(ctx, who, row)).gates.filter(({ isMet }) => !isMet)
  if (unmet.length > 0 && passOver === '') {
    write(ctx, who, row, (writer, common) => writer.append({ ...common, kind: 'merge-wanted', body: { ...idOf(row), method, why: null } }))
    return 'waits'
  }
  if (unmet.length > 0) requireRightInOneOf(who, 'gates.pass-over', projectsOfRepository(ctx.db, row.repository))
  await mergeNow(ctx, who, row, method)
  write(ctx, who, row, (writer, common) => {
    if (unmet.length > 0)
      writer.append({ ...common, kind: 'gates-passed-over', body: { ...idOf(row), gates: unmet.map(({ code }) => code), words: passOver } })
    writeWishEnded(ctx, writer, row, common.actor, null)
  })
  return 'merged'
}

/**
 * Says what has to hold before a merge into the bases that a pattern names; null for nothing more. Throws `conflict` where the repository
 * keeps its gates itself: they are changed there, and that change is looked at like any other.
 */
export async function setMergeGates(
  ctx: ServiceContext,
  who: Who,
  repository: string,
  { branches, gates }: { branches: string; gates: MergeGates | null },
): Promise<void> {
  const { file, rules } = await readRepositoryGates(ctx, repository)
  if (file) throw new Problem('conflict', { detail: `${repository} keeps its gates in ${file.path}. Change them there.` })
  if (gates === null && !rules.some((rule) => rule.branches === branches)) return
  const body = gates === null ? { repository, branches, isDropped: true } : { repository, branches, ...gates }
  ctx.journal.write((writer) => {
    writer.append({ kind: 'merge-gates-set', actor: who.actor, subjects: [`repository:${repository}`], body })
  })
}

/** Ends a wish to merge, with the reason where it was not its owner's. */
export function dropWish(ctx: ServiceContext, who: Who, row: PullRequestRow, why: string | null): void {
  write(ctx, who, row, (writer, common) => writeWishEnded(ctx, writer, row, common.actor, why))
}

function writeWishEnded(ctx: ServiceContext, writer: JournalWriter, row: PullRequestRow, actor: string, why: string | null): void {
  if (sql(ctx.db, GET_MERGE_WISH).get(idOf(row)) === undefined) return
  writer.append({ kind: 'merge-wanted', actor, subjects: subjectsOf(row), body: { ...idOf(row), method: null, why } })
}

interface Common {
  actor: string
  subjects: string[]
}
function subjectsOf({ repository, number }: PullRequestRow): string[] {
  return [`pull-request:${repository}/${number}`]
}

/** One write about a pull request; the ladders of its items follow. */
function write(ctx: ServiceContext, who: Who, row: PullRequestRow, append: (writer: JournalWriter, common: Common) => unknown): void {
  ctx.journal.write((writer) => {
    append(writer, { actor: who.actor, subjects: subjectsOf(row) })
    writer.touch(itemsTiedTo(ctx.db, { kind: 'pull-request', id: `${row.repository}/${row.number}` }))
  })
}

function writeRemark(
  ctx: ServiceContext,
  writer: JournalWriter,
  { row, personId, common }: { row: PullRequestRow; personId: string; common: Common },
  { text, place, replyTo, instead }: MakeRemark,
): void {
  const asked = replyTo === null ? null : requireRemark(ctx, row, replyTo)
  writer.append({
    ...common,
    kind: 'remark-made',
    body: {
      ...idOf(row),
      remarkId: ctx.newId(),
      // Answers hang on the remark that began it.
      replyTo: asked === null ? null : (asked.reply_to ?? asked.remark_id),
      personId,
      place: asked !== null || place === null ? null : { ...place, sha: shaOf(ctx, row, place.side) },
      text,
      ...(instead !== null && { instead }),
    },
  })
}

/** The commit whose lines a side shows: the newest of the change, or what it is compared with. */
function shaOf(ctx: ServiceContext, row: PullRequestRow, side: RemarkPlace['side']): string {
  return side === 'new' ? row.head_sha : (row.base_sha ?? mainTip(ctx.db, row.repository) ?? row.head_sha)
}

function requireRemark(ctx: ServiceContext, row: PullRequestRow, remarkId: string) {
  const remark = sql(ctx.db, GET_REMARK).get<{ remark_id: string; reply_to: string | null; settled_at_ms: number | null }>({
    ...idOf(row),
    remarkId,
  })
  if (!remark) throw new Problem('not-found', { detail: 'This remark is not there.' })
  return remark
}

function requireOpen(ctx: ServiceContext, who: Who, id: string): PullRequestRow {
  const row = findPullRequest(ctx, who, id)
  if (row.state !== 'open') throw new Problem('conflict', { detail: `It is ${row.state} already.` })
  return row
}

function membersOf(ctx: ServiceContext, { repository }: PullRequestRow): string[] {
  const projects = JSON.stringify(projectsOfRepository(ctx.db, repository))
  return sql(ctx.db, LIST_MEMBERS_OF_PROJECTS)
    .all<{ personId: string }>({ projects })
    .map(({ personId }) => personId)
}

function personOf(who: Who): string {
  if (who.personId === null) throw new Problem('sign-in-required', { detail: 'A review is given by a person. Sign in to give one.' })
  return who.personId
}
