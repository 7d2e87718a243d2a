import { mayIn } from '@dystracer/core/people/standing'
import { Problem } from '@dystracer/core/basics/problem'
import type { Comment } from '@dystracer/core/talk/wire'
import { deedsOf, mentionsIn, type Deed, type DeedRefusal } from '@dystracer/core/talk/comment-deeds'
import { maskForeignText } from '@dystracer/core/text/masked-prose'
import { parseReferences } from '@dystracer/core/text/references'
import { sql } from '#platform/db/statements'
import { entryByIdempotencyKey } from '#platform/journal/journal.queries'
import type { FieldChanges } from '@dystracer/core/records/events'
import type { Actor } from '@dystracer/core/contract/events'
import type { JournalWriter } from '#platform/journal/journal'
import type { Who } from '@dystracer/core/people/who'
import { decodeCursor, pageOf } from '#platform/db/cursor'
import type { ServiceContext } from '#platform/context'
import { bookTime } from './time.commands.js'
import { notify } from '#subjects/inbox/index'
import { projectOf, requireOpen, requireRight, whoIsPerson } from '#subjects/people/index'
import { assertLink, changesOf, getItem, type ItemRow, keyPrefixes, maySee, requireItem } from '#subjects/records/index'
import {
  COUNT_COMMENT_BY_KEY,
  GET_ASKED_BY_OF_ITEM_BY_KEY,
  GET_COMMENT_BY_COMMENT_ID,
  HAS_COMMENT_BY_REPLY_TO_AND_KEY,
  LIST_COMMENT_BY_KEY,
  LIST_COMMENT_REACTION_BY_ID,
  LIST_COMMENT_REVISION_BY_COMMENT_ID,
  LIST_FOLLOWER_BY_KEY,
  LIST_PERSON,
} from './comments.queries.js'
import { gatherReactions } from './reactions.js'

interface People {
  personId: string
  name: string
}
function listPeople(ctx: Pick<ServiceContext, 'db'>): People[] {
  return sql(ctx.db, LIST_PERSON).all<People>({})
}

export interface DeedPreview {
  deeds: Deed[]
  refused: DeedRefusal[]
  mentions: { personId: string; maySee: boolean }[]
}

/** What a comment would do, by the code that does it: trailers, and whom it mentions (with whether they may see the item). */
export function previewDeeds(ctx: ServiceContext, who: Who, key: string, text: string): DeedPreview {
  const people = listPeople(ctx)
  const { deeds, refused } = deedsOf(parseReferences(text, keyPrefixes(ctx.db)), people)
  const mentions = mentionsIn(maskForeignText(text), people).map((personId) => ({
    personId,
    maySee: maySee(ctx.db, whoIsPerson(ctx.db, personId), key),
  }))
  return !mayIn(who, 'talk.write', projectOf(key)) ? { deeds: [], refused, mentions } : { deeds, refused, mentions }
}

/** What a rule remarks on an item, inside the write in which it fires. */
export function writeRemark(
  ctx: Pick<ServiceContext, 'newId'>,
  writer: JournalWriter,
  key: string,
  { text, actor, cause, atMs }: { text: string; actor: Actor; cause: string; atMs: number },
): void {
  writer.append({ kind: 'comment-added', actor, subjects: [`item:${key}`], cause, atMs, body: { commentId: ctx.newId(), key, text } })
}

/**
 * A comment that was made elsewhere, inside the write that imports its item: who made it there is data, not who acts. Nobody is told, and
 * nothing that it says is done.
 */
export function writeImportedComment(
  ctx: Pick<ServiceContext, 'newId'>,
  writer: JournalWriter,
  who: Who,
  key: string,
  { text, from, atMs }: { text: string; from: string | null; atMs: number | null },
): void {
  writer.append({
    kind: 'comment-added',
    actor: who.actor,
    subjects: [`item:${key}`],
    cause: 'import',
    ...(atMs !== null && { atMs }),
    body: { commentId: ctx.newId(), key, text, ...(from !== null && { from }) },
  })
}

/**
 * Adds a comment, ties what it names, does what its trailers say, tells those it mentions, the owners and the followers. The same message
 * (`messageId`) adds one comment, however often it is delivered. Gives its id.
 */
export function addComment(
  ctx: ServiceContext,
  who: Who,
  key: string,
  input: { text: string; replyTo?: string | undefined; from?: string; messageId?: string },
): string {
  const idempotencyKey = input.messageId === undefined ? undefined : `comment/${key}/${input.messageId}`
  const before = idempotencyKey && entryByIdempotencyKey(ctx.db, idempotencyKey)
  if (before) return (before.body as { commentId: string }).commentId
  if (input.from === undefined) requireRight(who, 'talk.write', projectOf(key))
  else requireOpen(ctx.db, projectOf(key))
  const item = requireItem(ctx, key)
  const { replyTo } = input
  if (replyTo !== undefined && !sql(ctx.db, HAS_COMMENT_BY_REPLY_TO_AND_KEY).get({ replyTo, key }))
    throw new Problem('invalid-input', { fields: { replyTo: 'This comment is not there' } })
  const commentId = ctx.newId()
  const refs = parseReferences(input.text, keyPrefixes(ctx.db))
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'comment-added',
      actor: who.actor,
      subjects: [`item:${key}`],
      ...(idempotencyKey && { idempotencyKey }),
      body: {
        commentId,
        key,
        text: input.text,
        ...(replyTo !== undefined && { replyTo }),
        ...(input.from !== undefined && { from: input.from }),
      },
    })
    for (const named of refs.named) {
      if (named === key || !getItem(ctx.db, named)) continue
      assertLink(ctx.db, writer, {
        kind: 'see-also',
        from: { kind: 'item', id: key },
        to: { kind: 'item', id: named },
        provenance: 'person',
        source: `item:${key}`,
        statedBy: who.actor,
        actor: who.actor,
        cause: 'comment',
      })
    }
    const askedBy = whoAsked(ctx, item, who, input.from)
    if (askedBy !== null)
      writer.append({ kind: 'reporter-answered', actor: who.actor, subjects: [`item:${key}`], cause: 'comment', body: { key } })
    const people = listPeople(ctx)
    // Text acts only by an account that may write (docs/rules.md#acting-text); from elsewhere it is words.
    if (who.personId !== null && mayIn(who, 'talk.write', projectOf(key)))
      actOn(ctx, writer, who, { key, text: input.text, commentId, people })
    const mentioned = mentionsIn(maskForeignText(input.text), people)
    const words = plainWords(input.text).slice(0, 200)
    notify(ctx, writer, { key, by: who, personIds: mentioned, why: 'mentioned', words })
    const others = [
      item.owner_id,
      ...(JSON.parse(item.co_owner_ids) as string[]),
      item.reporter_id,
      askedBy,
      ...followersOf(ctx, key),
    ].filter((personId) => personId !== null && !mentioned.includes(personId))
    notify(ctx, writer, { key, by: who, personIds: others, why: 'followed', words })
  })
  return commentId
}

/** A text without the marks of Markdown, for a line that tells of it. */
function plainWords(text: string): string {
  return text
    .replace(/!?\[([^\]]*)\]\([^)]*\)/g, '$1')
    .replace(/[*`#>~]+/g, '')
    .replace(/\s+/g, ' ')
    .trim()
}

/** Who waits for this comment as their reporter's answer; null when nobody does. */
function whoAsked(ctx: ServiceContext, item: ItemRow, who: Who, from: string | undefined): string | null {
  const askedBy = sql(ctx.db, GET_ASKED_BY_OF_ITEM_BY_KEY).get<{ asked_by: string | null }>({
    key: item.key,
  })?.asked_by
  const isReporter = from === undefined ? item.reporter_id !== null && item.reporter_id === who.personId : item.came_from === from
  return askedBy && isReporter ? askedBy.replace(/^person:/, '') : null
}

export function followersOf(ctx: Pick<ServiceContext, 'db'>, key: string): string[] {
  return sql(ctx.db, LIST_FOLLOWER_BY_KEY)
    .all<{ person_id: string }>({ key })
    .map((row) => row.person_id)
}

function actOn(
  ctx: ServiceContext,
  writer: JournalWriter,
  who: Who,
  input: { key: string; text: string; commentId: string; people: People[] },
): void {
  const { deeds } = deedsOf(parseReferences(input.text, keyPrefixes(ctx.db)), input.people)
  const row = requireItem(ctx, input.key)
  const wanted: Parameters<typeof changesOf>[1] = {}
  const labels = JSON.parse(row.labels) as string[]
  let times = 0
  for (const deed of deeds) {
    if (deed.kind === 'owner') wanted.ownerId = deed.personId
    else if (deed.kind === 'severity') wanted.severity = deed.value
    else if (deed.kind === 'due') wanted.dueOn = deed.on
    else if (deed.kind === 'label') wanted.labels = [...new Set([...(wanted.labels ?? labels), deed.label])]
    else
      bookTime(ctx, writer, who, input.key, {
        minutes: deed.minutes,
        on: deed.on ?? undefined,
        entryId: `${input.commentId}/${times++}`,
        provenance: 'comment',
      })
  }
  const changes: FieldChanges = changesOf(row, wanted)
  if (Object.keys(changes).length > 0)
    writer.append({
      kind: 'item-changed',
      actor: who.actor,
      subjects: [`item:${input.key}`],
      cause: 'comment',
      body: { key: input.key, changes },
    })
  if (wanted.ownerId !== undefined && changes.ownerId)
    notify(ctx, writer, { key: input.key, by: who, personIds: [wanted.ownerId], why: 'assigned', words: 'It is yours now.' })
}

interface CommentRow {
  comment_id: string
  item_key: string
  by: string
  at_ms: number
  text: string
  reply_to: string | null
  edited_at_ms: number | null
  from_address: string | null
}

function requireComment(ctx: ServiceContext, key: string, commentId: string): CommentRow {
  const row = sql(ctx.db, GET_COMMENT_BY_COMMENT_ID).get<CommentRow>({ commentId })
  if (row?.item_key !== key) throw new Problem('not-found', { detail: 'This comment is not there.' })
  return row
}

/**
 * Changes one's own comment; the earlier text stays readable. Throws `changed-meanwhile` when it is not the
 * text that was edited any more.
 */
export function editComment(ctx: ServiceContext, who: Who, input: { key: string; commentId: string; text: string; before: string }): void {
  const row = requireComment(ctx, input.key, input.commentId)
  if (row.by !== who.actor) throw new Problem('not-allowed', { detail: 'Only its author edits a comment.' })
  if (row.text !== input.before)
    throw new Problem('changed-meanwhile', {
      detail: 'The comment was edited elsewhere meanwhile. Your text is kept here.',
      facts: { text: row.text },
    })
  if (row.text === input.text) return
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'comment-edited',
      actor: who.actor,
      subjects: [`item:${input.key}`],
      body: { commentId: input.commentId, key: input.key, text: input.text, before: row.text },
    })
  })
}

export function reactToComment(
  ctx: ServiceContext,
  who: Who,
  input: { key: string; commentId: string; reaction: string; isOn: boolean },
): void {
  if (who.personId === null) throw new Problem('not-allowed', { detail: 'A reaction belongs to a person; sign in as one.' })
  requireComment(ctx, input.key, input.commentId)
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'comment-reacted',
      actor: who.actor,
      subjects: [`item:${input.key}`],
      body: { commentId: input.commentId, key: input.key, reaction: input.reaction, isOn: input.isOn },
    })
  })
}

/** Comments, oldest first; ten thousand of them come in pages. */
export function listComments(
  ctx: Pick<ServiceContext, 'db'>,
  key: string,
  input: { cursor?: string | undefined; limit: number },
): { rows: Comment[]; nextCursor: string | null; total: number } {
  const after = decodeCursor(input.cursor, 2)
  const rows = sql(ctx.db, LIST_COMMENT_BY_KEY).all<CommentRow>({
    key,
    a: after ? Number(after[0]) : -1,
    b: after ? String(after[1]) : '',
    limit: input.limit + 1,
  })
  const total = sql(ctx.db, COUNT_COMMENT_BY_KEY).get<{ count: number }>({ key })?.count ?? 0
  return {
    ...pageOf(
      rows,
      input.limit,
      (row) => toComment(ctx, row),
      (row) => [row.at_ms, row.comment_id],
    ),
    total,
  }
}

function toComment(ctx: Pick<ServiceContext, 'db'>, row: CommentRow): Comment {
  return {
    commentId: row.comment_id,
    by: row.from_address === null ? row.by : null,
    from: row.from_address,
    atMs: row.at_ms,
    text: row.text,
    replyTo: row.reply_to,
    editedAtMs: row.edited_at_ms,
    reactions: gatherReactions(
      sql(ctx.db, LIST_COMMENT_REACTION_BY_ID).all<{ reaction: string; personId: string }>({ id: row.comment_id }),
    ),
  }
}

/** Earlier texts of a comment, newest first. */
export function listRevisions(ctx: ServiceContext, key: string, commentId: string): { text: string; atMs: number }[] {
  requireComment(ctx, key, commentId)
  return sql(ctx.db, LIST_COMMENT_REVISION_BY_COMMENT_ID).all<{
    text: string
    atMs: number
  }>({ commentId })
}
