import { mayAnywhere } from '@dystracer/core/people/standing'
import { simpleParser, type ParsedMail } from 'mailparser'
import { Problem } from '@dystracer/core/basics/problem'
import { parseReferences } from '@dystracer/core/text/references'
import { sql } from '#platform/db/statements'
import { STRANGER, type Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { readReplyAddress, reportToken } from '#subjects/inbox/index'
import { logItem } from '#subjects/items/index'
import { whoIsPerson } from '#subjects/people/index'
import { keyPrefixes, knownKeys, maySee } from '#subjects/records/index'
import { readSetting } from '#subjects/setup/index'
import { addComment } from '#subjects/talk/index'
import {
  GET_NAME_OF_PROJECT_BY_PROJECT,
  GET_PERSON_ID_OF_PERSON_BY_ADDRESS,
  GET_PREFIX_OF_PROJECT,
  LIST_COMPONENT_BY_PROJECT,
} from './mail-and-form.queries.js'

const TEXT_MAX = 50_000

/**
 * A mail becomes a report, or, when its subject names an item, a comment on it. The sender's address speaks for an account only when it is
 * one's; a stranger's mail waits in Triage and its
 * trailers are words (docs/rules.md#acting-text). The same message twice changes nothing. Gives the item's key; null for
 * what no person wrote: two machines that answer each other would never end.
 */
export async function receiveMail(ctx: ServiceContext, raw: Buffer): Promise<string | null> {
  const mail = await simpleParser(raw, { skipHtmlToText: false, skipImageLinks: true })
  if (isAutomatic(mail)) return null
  const address = mail.from?.value[0]?.address?.toLowerCase() ?? ''
  if (!/^[^@\s]+@[^@\s]+$/.test(address)) throw new Problem('invalid-input', { fields: { from: 'The mail names no sender' } })
  const who = whoByAddress(ctx, address)
  const title = (mail.subject ?? '')
    .replace(/^\s*(?:(?:re|fwd?|aw|wg)\s*:\s*)+/i, '')
    .trim()
    .slice(0, 200)
  const text = withoutQuote(mail.text ?? '').slice(0, TEXT_MAX)
  if (title === '' && text === '') throw new Problem('invalid-input', { fields: { subject: 'The mail is empty' } })
  const answered = recipientsOf(mail)
    .map((recipient) => readReplyAddress(ctx, recipient))
    .find((found) => found !== null)
  if (answered && (text !== '' || title !== '')) {
    takeAnswer(ctx, answered, { who, address, text: text || title })
    return answered.key
  }
  const [named] = knownKeys(ctx.db, parseReferences(mail.subject ?? '', keyPrefixes(ctx.db)).named)
  const from = who.personId === null ? address : undefined
  if (named && maySee(ctx.db, who, named) && who.personId !== null) {
    addComment(ctx, who, named, { text: text || title })
    return named
  }
  const project = sql(ctx.db, GET_PREFIX_OF_PROJECT).get<{ prefix: string }>({})?.prefix ?? ''
  return logItem(
    ctx,
    who,
    { title: title || text.split('\n', 1)[0]?.slice(0, 200) || 'A mail without a subject', description: text, project },
    { idempotencyKey: mail.messageId, ...(from !== undefined && { from }) },
  )
}

/** Whether a mail says that no person wrote it (RFC 3834): absence notes, delivery reports, lists. */
function isAutomatic(mail: ParsedMail): boolean {
  const automatic = String(mail.headers.get('auto-submitted') ?? 'no').toLowerCase()
  // The parser gathers all List- headers under one name.
  return (
    automatic !== 'no' || /^(?:bulk|junk|list|auto_reply)$/i.test(String(mail.headers.get('precedence') ?? '')) || mail.headers.has('list')
  )
}

function recipientsOf(mail: ParsedMail): string[] {
  return [mail.to, mail.cc].flat().flatMap((field) => field?.value.map((entry) => entry.address ?? '') ?? [])
}

/**
 * An answer to one of our mails. It speaks for the account it was sent to only when it comes from that account's address
 * (docs/rules.md#acting-text); from elsewhere it is words of that address.
 */
function takeAnswer(ctx: ServiceContext, to: { key: string; personId: string }, input: { who: Who; address: string; text: string }): void {
  const isHolder = input.who.personId !== null && input.who.personId === to.personId
  addComment(ctx, isHolder ? input.who : STRANGER, to.key, { text: input.text, ...(!isHolder && { from: input.address }) })
}

/** The new part of an answer: what stands above the first quoted block. */
function withoutQuote(text: string): string {
  const lines = text.replace(/\r\n?/g, '\n').split('\n')
  const quote = lines.findIndex(
    (line, index) => /^>/.test(line) || (/^(?:On|Am) .{5,200}(?:wrote|schrieb):\s*$/.test(line) && /^>|^$/.test(lines[index + 1] ?? '')),
  )
  return (quote > 0 ? lines.slice(0, quote) : lines).join('\n').trim()
}

function whoByAddress(ctx: ServiceContext, address: string): Who {
  const row = sql(ctx.db, GET_PERSON_ID_OF_PERSON_BY_ADDRESS).get<{ person_id: string }>({ address })
  if (!row) return STRANGER
  const who = whoIsPerson(ctx.db, row.person_id)
  return mayAnywhere(who, 'items.log') ? who : STRANGER
}

/** What the public form asks; throws `not-found` where a project has not switched it on. */
export function readPublicForm(ctx: ServiceContext, project: string): { name: string; components: string[] } {
  const name = sql(ctx.db, GET_NAME_OF_PROJECT_BY_PROJECT).get<{ name: string }>({ project })?.name
  if (name === undefined || readSetting(ctx.db, project, 'public-form') !== 'on')
    throw new Problem('not-found', { detail: 'This project takes no reports by a public form.' })
  const components = sql(ctx.db, LIST_COMPONENT_BY_PROJECT).all<{ name: string }>({ project })
  return { name, components: components.map((row) => row.name) }
}

/**
 * A report by the public form, where the project has switched it on; it waits in Triage. Gives the text of the link by which its reporter
 * follows it.
 */
export function receivePublicReport(
  ctx: ServiceContext,
  project: string,
  input: { title: string; description: string; address: string; component: string | null },
): { token: string } {
  readPublicForm(ctx, project)
  const from = input.address || 'the public form'
  const key = logItem(ctx, STRANGER, { title: input.title, description: input.description, component: input.component, project }, { from })
  return { token: reportToken(ctx, key, from) }
}
