import { Problem } from '@dystracer/core/basics/problem'
import type { INBOX_VIEWS, Notice, NoticeChoices, NoticeGroup } from '@dystracer/core/inbox/wire'
import { DEFAULT_WAY, NOTICE_WHYS, type NoticeWay, type NoticeWhy } from '@dystracer/core/inbox/notice'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import type { Who } from '@dystracer/core/people/who'
import { decodeCursor, encodeCursor } from '#platform/db/cursor'
import type { ServiceContext } from '#platform/context'
import { whoIsPerson } from '#subjects/people/index'
import { type ItemRow, maySee } from '#subjects/records/index'
import {
  GET_IS_CONFIDENTIAL_OF_ITEM_BY_KEY,
  GET_ITEM_BY_KEY,
  GET_WAY_OF_NOTICE_CHOICE_BY_PERSON_ID_AND_WHY,
  LIST_NOTICE_BY_PERSON_ID_AND_KEY,
} from './notices.queries.js'

/** A reporter without an account is told by mail alone, under a name that no account can have. */
const BY_MAIL = 'mail:'
const SHOWN_OF_GROUP = 20

/** Who reported an item, as someone who can be told; null for a rule, an import or the form without an address. */
export function reporterOf(row: Pick<ItemRow, 'reporter_id' | 'came_from'>): string | null {
  return row.reporter_id ?? (row.came_from?.includes('@') ? `${BY_MAIL}${row.came_from}` : null)
}

/** The address of a reporter without an account; null for a person with one. */
export function mailAddressOf(personId: string): string | null {
  return personId.startsWith(BY_MAIL) ? personId.slice(BY_MAIL.length) : null
}

/**
 * Tells people something about an item, once each, in the way that each chose: never the one who did it, never someone who may not see the
 * item. Mail is gathered and follows later.
 */
export function notify(
  ctx: Pick<ServiceContext, 'db' | 'newId'>,
  writer: JournalWriter,
  input: { key: string; by: Pick<Who, 'actor' | 'personId'>; personIds: Iterable<string | null>; why: NoticeWhy; words: string },
): void {
  for (const personId of new Set(input.personIds)) {
    if (personId === null || personId === input.by.personId) continue
    if (!mayBeTold(ctx.db, personId, input.key)) continue
    const way = mailAddressOf(personId) === null ? wayOf(ctx.db, personId, input.why) : 'mail'
    if (way === 'nothing') continue
    writer.append({
      kind: 'person-notified',
      actor: input.by.actor,
      subjects: [`person:${personId}`],
      cause: input.why,
      body: { noticeId: ctx.newId(), personId, key: input.key, why: input.why, words: input.words.slice(0, 300), way },
    })
  }
}

/** A person is told what they may see; a reporter without an account is told of their own report, unless it has become confidential. */
function mayBeTold(db: ServiceContext['db'], personId: string, key: string): boolean {
  if (mailAddressOf(personId) === null) return maySee(db, whoIsPerson(db, personId), key)
  return sql(db, GET_IS_CONFIDENTIAL_OF_ITEM_BY_KEY).get<{ is_confidential: number }>({ key })?.is_confidential === 0
}

function wayOf(db: ServiceContext['db'], personId: string, why: NoticeWhy): NoticeWay {
  return sql(db, GET_WAY_OF_NOTICE_CHOICE_BY_PERSON_ID_AND_WHY).get<{ way: NoticeWay }>({ personId, why })?.way ?? DEFAULT_WAY[why]
}

export function readChoices(ctx: ServiceContext, who: Who): NoticeChoices {
  const { personId } = requirePerson(who)
  return Object.fromEntries(NOTICE_WHYS.map((why) => [why, wayOf(ctx.db, personId, why)])) as NoticeChoices
}

export function chooseWay(ctx: ServiceContext, who: Who, choice: { why: NoticeWhy; way: NoticeWay }): void {
  const { personId } = requirePerson(who)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'notice-way-chosen', actor: who.actor, subjects: [`person:${personId}`], body: { personId, ...choice } })
  })
}

function requirePerson(who: Who): { personId: string } {
  if (who.personId === null) throw new Problem('sign-in-required', { detail: 'Sign in to have an inbox.' })
  return { personId: who.personId }
}

interface NoticeRow {
  notice_id: string
  item_key: string
  why: NoticeWhy
  by: string
  words: string
  at_ms: number
  read_at_ms: number | null
  snoozed_until_ms: number | null
}
const COLUMNS = 'n.notice_id, n.item_key, n.why, n.by, n.words, n.at_ms, n.read_at_ms, n.snoozed_until_ms'
type View = (typeof INBOX_VIEWS)[number]
/** What a view admits, on `notice`; read by name, so that nothing of a request enters the text. */
const ADMITS: Record<View, (alias: 'n' | 'm') => string> = {
  unread: (alias) =>
    `${alias}.read_at_ms IS NULL AND ${alias}.way <> 'mail' AND (${alias}.snoozed_until_ms IS NULL OR ${alias}.snoozed_until_ms <= @nowMs)`,
  all: (alias) => `${alias}.way <> 'mail'`,
  later: (alias) => `${alias}.read_at_ms IS NULL AND ${alias}.snoozed_until_ms > @nowMs`,
}
/** The newest notice of each item stands for its group, so that groups page by it without adding up the whole inbox. */
const LEADERS: Record<View, string> = Object.fromEntries(
  (['unread', 'all', 'later'] as const).map((view) => [
    view,
    `SELECT ${COLUMNS} FROM notice n INDEXED BY ${view === 'all' ? 'notice_person' : 'notice_unread'}
      WHERE n.person_id = @personId AND ${ADMITS[view]('n')}
    AND (-n.at_ms, n.notice_id) > (@a, @b)
    AND NOT EXISTS (SELECT 1 FROM notice m INDEXED BY notice_item
      WHERE m.person_id = n.person_id AND m.item_key = n.item_key AND ${ADMITS[view]('m')}
      AND (-m.at_ms, m.notice_id) < (-n.at_ms, n.notice_id))
    ORDER BY n.at_ms DESC, n.notice_id LIMIT @limit`,
  ]),
) as Record<View, string>

/** What a person was told, gathered by item, the item with the newest first. */
export function listInbox(
  ctx: ServiceContext,
  who: Who,
  input: { view: View; cursor?: string | undefined; limit: number },
): { rows: NoticeGroup[]; nextCursor: string | null } {
  if (who.personId === null) return { rows: [], nextCursor: null }
  const after = decodeCursor(input.cursor, 2)
  const bind = { personId: who.personId, nowMs: ctx.nowMs() }
  const leaders = sql(ctx.db, LEADERS[input.view]).all<NoticeRow>({
    ...bind,
    a: after ? Number(after[0]) : -Number.MAX_SAFE_INTEGER,
    b: after ? String(after[1]) : '',
    limit: input.limit + 1,
  })
  const shown = leaders.slice(0, input.limit)
  const last = shown.at(-1)
  return {
    rows: shown.filter((leader) => maySee(ctx.db, who, leader.item_key)).map((leader) => toGroup(ctx, bind, input.view, leader)),
    nextCursor: leaders.length > input.limit && last ? encodeCursor([-last.at_ms, last.notice_id]) : null,
  }
}

function toGroup(ctx: ServiceContext, bind: { personId: string; nowMs: number }, view: View, leader: NoticeRow): NoticeGroup {
  const rows = sql(
    ctx.db,
    `SELECT ${COLUMNS} FROM notice n INDEXED BY notice_item
      WHERE n.person_id = @personId AND n.item_key = @key AND ${ADMITS[view]('n')}
      ORDER BY n.at_ms DESC, n.notice_id LIMIT ${SHOWN_OF_GROUP}`,
  ).all<NoticeRow>({ ...bind, key: leader.item_key })
  const item = sql(ctx.db, GET_ITEM_BY_KEY).get<{ title: string; stair: string }>({ key: leader.item_key })
  return {
    itemKey: leader.item_key,
    title: item?.title ?? '',
    stair: item?.stair ?? null,
    unread: rows.filter((row) => row.read_at_ms === null).length,
    newestAtMs: leader.at_ms,
    snoozedUntilMs: leader.snoozed_until_ms,
    notices: rows.map(
      (row): Notice => ({
        noticeId: row.notice_id,
        why: row.why,
        by: row.by,
        words: row.words,
        atMs: row.at_ms,
        isRead: row.read_at_ms !== null,
      }),
    ),
  }
}

/** How many unread things wait in the inbox now. */
export function countUnread(ctx: Pick<ServiceContext, 'db' | 'nowMs'>, who: Who): number {
  if (who.personId === null) return 0
  const binds = { personId: who.personId, nowMs: ctx.nowMs() }
  return (
    sql(
      ctx.db,
      `SELECT count(*) AS count FROM notice n INDEXED BY notice_unread WHERE n.person_id = @personId AND ${ADMITS.unread('n')}`,
    ).get<{
      count: number
    }>(binds)?.count ?? 0
  )
}

/** Marks notices read, by themselves or all of an item. */
export function markRead(ctx: ServiceContext, who: Who, input: { noticeIds?: string[]; keys?: string[] }): void {
  const { personId } = requirePerson(who)
  const ofItems = (input.keys ?? []).flatMap((key) =>
    sql(ctx.db, LIST_NOTICE_BY_PERSON_ID_AND_KEY)
      .all<{ notice_id: string }>({ personId, key })
      .map((row) => row.notice_id),
  )
  const noticeIds = [...(input.noticeIds ?? []), ...ofItems]
  if (noticeIds.length === 0) return
  ctx.journal.write((writer) => {
    writer.append({ kind: 'notices-read', actor: who.actor, subjects: [`person:${personId}`], body: { personId, noticeIds } })
  })
}

/** Puts an item's unread notices off until a time, or brings them back (null). What comes later shows at once. */
export function snooze(ctx: ServiceContext, who: Who, input: { key: string; untilMs: number | null }): void {
  const { personId } = requirePerson(who)
  if (input.untilMs !== null && input.untilMs <= ctx.nowMs())
    throw new Problem('invalid-input', { fields: { untilMs: 'Choose a time to come' } })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'notices-snoozed', actor: who.actor, subjects: [`person:${personId}`], body: { personId, ...input } })
  })
}
