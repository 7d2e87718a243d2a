import escapeHtml from 'escape-html'
import type { NoticeWhy } from '@dystracer/core/inbox/notice'
import { sql } from '#platform/db/statements'
import { MessageRefused, OutsideError } from '#platform/outside-error'
import { mailAddressOf } from './notices.js'
import { pageOfItem, replyAddress } from './reply-address.js'
import type { ServiceContext } from '#platform/context'
import type { OutgoingMail } from '#platform/mail/mailer'
import { mailerOf } from '#platform/mail/mailer.slot'
import {
  DELETE_MAIL_TRY,
  GET_MAIL_TRY,
  GET_PERSON_BY_PERSON_ID,
  GET_TITLE_OF_ITEM_BY_KEY,
  INSERT_MAIL_TRY,
  LIST_MAIL_REFUSAL,
} from './mail.queries.js'

/** So many threads go out in one round, those that wait longest first; the others wait for the next. */
const THREADS_MAX = 200
const PIECES_MAX = 50
/** A server that asks to come again is asked so often. */
const TRIES_MAX = 5

const PLAIN_WHY: Record<NoticeWhy, string> = {
  assigned: 'gave it to you',
  mentioned: 'mentioned you',
  asked: 'asks you',
  review: 'asks for your review',
  moved: 'moved',
  decided: 'decided',
  followed: 'wrote',
  'reported-again': 'reported it again',
  rule: 'told you of it',
}
interface Piece {
  notice_id: string
  why: NoticeWhy
  by: string
  words: string
  name: string | null
  at_ms: number
}

/**
 * Mails what people were told and want by mail: for each person and item one message, in the item's thread. What could not be handed over
 * is tried again in the next round.
 */
export async function mailDigests(ctx: ServiceContext): Promise<number> {
  const threads = sql(
    ctx.db,
    `SELECT person_id, item_key FROM notice INDEXED BY notice_to_mail WHERE mailed_at_ms IS NULL AND way <> 'screen'
    GROUP BY person_id, item_key ORDER BY min(at_ms), person_id, item_key LIMIT ${THREADS_MAX}`,
  ).all<{ person_id: string; item_key: string }>({})
  let sent = 0
  for (const { person_id: personId, item_key: key } of threads) {
    const pieces = sql(
      ctx.db,
      `SELECT n.notice_id, n.why, n.by, n.words, n.at_ms, p.name FROM notice n INDEXED BY notice_to_mail
        LEFT JOIN person p ON 'person:' || p.person_id = n.by
      WHERE n.person_id = @personId AND n.item_key = @key AND n.mailed_at_ms IS NULL AND n.way <> 'screen'
        ORDER BY n.at_ms, n.notice_id LIMIT ${PIECES_MAX}`,
    ).all<Piece>({ personId, key })
    const mail = composeDigest(ctx, personId, key, pieces)
    try {
      if (mail) await mailerOf(ctx).send(mail)
    } catch (error) {
      // One address that is refused must not keep the others from hearing anything.
      if (!(error instanceof MessageRefused)) throw error
      noteRefusal(ctx, { personId, key, pieces, error })
      continue
    }
    sql(ctx.db, DELETE_MAIL_TRY).run({ personId, key })
    ctx.journal.write((writer) => {
      writer.append({
        kind: 'notices-mailed',
        actor: 'system',
        subjects: [`person:${personId}`],
        body: { personId, noticeIds: pieces.map((piece) => piece.notice_id), messageId: mail?.messageId ?? null },
      })
    })
    if (mail) sent++
  }
  return sent
}

/** Tries a refused message again in later rounds, up to a point; then sets it aside, so that its news stands on screen. */
function noteRefusal(
  ctx: ServiceContext,
  { personId, key, pieces, error }: { personId: string; key: string; pieces: readonly Piece[]; error: MessageRefused },
): void {
  sql(ctx.db, INSERT_MAIL_TRY).run({ personId, key })
  const tries = sql(ctx.db, GET_MAIL_TRY).get<{ tries: number }>({ personId, key })?.tries ?? 1
  ctx.log.warn({ err: error, tries }, 'a mail was refused')
  if (!error.isFinal && tries < TRIES_MAX) return
  sql(ctx.db, DELETE_MAIL_TRY).run({ personId, key })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'mail-set-aside',
      actor: 'system',
      subjects: [`person:${personId}`],
      body: { personId, key, noticeIds: pieces.map((piece) => piece.notice_id), why: error.message.slice(0, 300) },
    })
  })
}

/** The members of a project whose mail is not taken: why, and since when. */
export function listMailRefusals(ctx: ServiceContext, project: string): { personId: string; why: string; atMs: number }[] {
  return sql(ctx.db, LIST_MAIL_REFUSAL).all<{ personId: string; why: string; atMs: number }>({ project })
}

/** The message to one person about one item, in plain text and HTML; null where nobody can be reached any more. */
export function composeDigest(ctx: ServiceContext, personId: string, key: string, pieces: readonly Piece[]): OutgoingMail | null {
  const address = mailAddressOf(personId)
  const person =
    address === null
      ? sql(ctx.db, GET_PERSON_BY_PERSON_ID).get<{ email: string; name: string }>({ personId })
      : { email: address, name: '' }
  const item = sql(ctx.db, GET_TITLE_OF_ITEM_BY_KEY).get<{ title: string }>({ key })
  const last = pieces.at(-1)
  if (!person || !item || !last) return null
  const url = pageOfItem(ctx, key, personId)
  const lines = pieces.map((piece) => ({ who: `${piece.name ?? 'Dystracer'} ${PLAIN_WHY[piece.why]}`, words: piece.words }))
  const greeting = person.name === '' ? 'Good day,' : `${person.name},`
  const root = `<${key.toLowerCase()}@${ctx.config.mailDomain}>`
  const foot =
    address === null ? 'Answer to this mail to write a comment.' : 'Answer to this mail to tell us more. The link is yours alone.'
  return {
    to: person.email,
    // The same in all mails about an item, as is the first message named, so that they make one thread.
    subject: address === null ? `${key} ${item.title}` : `Your report: ${item.title}`,
    replyTo: replyAddress(ctx, key, personId),
    messageId: `<${last.notice_id}@${ctx.config.mailDomain}>`,
    // Absence notes are not to answer it (RFC 3834).
    headers: { 'Auto-Submitted': 'auto-generated' },
    inReplyTo: root,
    references: root,
    text:
      `${greeting}\n\n${lines.map((line) => `${line.who}:\n${indent(line.words)}`).join('\n\n')}\n\n${key} ` +
      `${item.title}\n${url}\n\n-- \n${foot}\n`,
    html: `<!doctype html><html lang="en"><body style="font:15px/1.5 sans-serif;color:#1e2421;background:#fffefa">
<p>${escapeHtml(greeting)}</p>
${lines
  .map(
    (line) =>
      `<p style="margin:0">${escapeHtml(line.who)}:</p><blockquote style="margin:4px 0 14px;` +
      `padding-left:12px;border-left:2px solid #ded8ca;white-space:pre-line">${escapeHtml(line.words)}</blockquote>`,
  )
  .join('\n')}
<p><a href="${escapeHtml(url)}" style="color:#1e6e62">${escapeHtml(address === null ? `${key} ${item.title}` : item.title)}</a></p>
<p style="color:#666c64">${escapeHtml(foot)}</p></body></html>`,
  }
}

function indent(words: string): string {
  return words
    .split('\n')
    .map((line) => `  ${line}`)
    .join('\n')
}

/** Mails in rounds. A mail server that does not answer is tried again with the next round. */
export function startMailing(ctx: ServiceContext): void {
  ctx.jobs.every({
    name: 'mailing',
    everyMs: ctx.config.digestIntervalMs,
    run: () => mailDigests(ctx),
    onTrouble: (error) => {
      if (!(error instanceof OutsideError)) return false
      ctx.log.warn({ err: error }, 'the mail server took nothing; tried again in the next round')
      return true
    },
  })
}
