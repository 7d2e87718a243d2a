import type { Notice } from '@dystracer/core/contract/items'
import { Problem } from '@dystracer/core/basics/problem'
import { sql } from '../db/statements.js'
import type { NoticeWhy } from '../journal/events.js'
import type { JournalWriter } from '../journal/journal.js'
import { projectOf, roleOfPerson, type Who } from './access.js'
import { decodeCursor, pageOf } from './cursor.js'
import type { ServiceContext } from './service-context.js'
import { maySee } from './visibility.js'

/** Tells people something about an item, once each: never the one who did it, never someone who may not see the item. Mail follows after the commit. */
export function notify(
  ctx: ServiceContext,
  writer: JournalWriter,
  input: { key: string; by: Who; personIds: Iterable<string | null>; why: NoticeWhy; words: string },
): void {
  for (const personId of new Set(input.personIds)) {
    if (personId === null || personId === input.by.personId) continue
    if (!maySee(ctx.db, { personId, role: roleOfPerson(ctx.db, personId, projectOf(input.key)) }, input.key)) continue
    const noticeId = ctx.newId()
    writer.append({
      kind: 'person-notified',
      actor: input.by.actor,
      subjects: [`person:${personId}`],
      cause: input.why,
      body: { noticeId, personId, key: input.key, why: input.why, words: input.words.slice(0, 300) },
    })
    sendMail(ctx, { personId, key: input.key, why: input.why, words: input.words, by: input.by })
  }
}

const SUBJECT: Record<NoticeWhy, string> = {
  assigned: 'is yours',
  mentioned: 'mentions you',
  followed: 'has news',
  'reported-again': 'was reported again',
}

function sendMail(ctx: ServiceContext, input: { personId: string; key: string; why: NoticeWhy; words: string; by: Who }): void {
  const to = sql<object, { email: string; name: string }>(ctx.db, 'SELECT email, name FROM person WHERE person_id = @personId').get({
    personId: input.personId,
  })
  const title = sql<object, { title: string }>(ctx.db, 'SELECT title FROM item WHERE key = @key').get({ key: input.key })?.title ?? ''
  if (!to) return
  const by =
    sql<object, { name: string }>(ctx.db, 'SELECT name FROM person WHERE person_id = @id').get({ id: input.by.personId ?? '' })?.name ?? 'Dystracer'
  ctx.background.add(
    ctx.mailer.send({
      to: to.email,
      subject: `${input.key} ${SUBJECT[input.why]}: ${title}`,
      text: `${to.name},\n\n${by}: ${input.words}\n\nhttp://${ctx.config.host}:${ctx.config.port}/items/item~${input.key}\n`,
    }),
    `mail about ${input.key}`,
  )
}

interface NoticeRow {
  notice_id: string
  item_key: string
  why: NoticeWhy
  by: string
  words: string
  at_ms: number
  read_at_ms: number | null
  title: string
}

/** What a person was told, newest first. */
export function listNotices(
  ctx: ServiceContext,
  who: Who,
  input: { cursor?: string | undefined; limit: number },
): { rows: Notice[]; nextCursor: string | null } {
  const after = decodeCursor(input.cursor, 2)
  const rows = sql<object, NoticeRow>(
    ctx.db,
    `SELECT n.notice_id, n.item_key, n.why, n.by, n.words, n.at_ms, n.read_at_ms, coalesce(i.title, '') AS title FROM notice n LEFT JOIN item i ON i.key = n.item_key
    WHERE n.person_id = @personId AND (-n.at_ms, n.notice_id) > (@a, @b) ORDER BY n.at_ms DESC, n.notice_id LIMIT @limit`,
  ).all({
    personId: who.personId ?? '',
    a: after ? Number(after[0]) : -Number.MAX_SAFE_INTEGER,
    b: after ? String(after[1]) : '',
    limit: input.limit + 1,
  })
  const page = pageOf(
    rows,
    input.limit,
    (row): Notice => ({
      noticeId: row.notice_id,
      itemKey: row.item_key,
      title: row.title,
      why: row.why,
      by: row.by,
      words: row.words,
      atMs: row.at_ms,
      isRead: row.read_at_ms !== null,
    }),
    (row) => [-row.at_ms, row.notice_id],
  )
  return { ...page, rows: page.rows.filter((row) => maySee(ctx.db, who, row.itemKey)) }
}

export function countUnread(ctx: Pick<ServiceContext, 'db'>, who: Who): number {
  if (who.personId === null) return 0
  return (
    sql<object, { count: number }>(ctx.db, 'SELECT count(*) AS count FROM notice WHERE person_id = @personId AND read_at_ms IS NULL').get({
      personId: who.personId,
    })?.count ?? 0
  )
}

export function markRead(ctx: ServiceContext, who: Who, noticeIds: string[]): void {
  if (who.personId === null) throw new Problem('sign-in-required')
  const { personId } = who
  if (noticeIds.length === 0) return
  ctx.journal.write((writer) => {
    writer.append({ kind: 'notices-read', actor: who.actor, subjects: [`person:${personId}`], body: { personId, noticeIds } })
  })
}
