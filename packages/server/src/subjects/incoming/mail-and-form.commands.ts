import { firstLine } from '@dystracer/core/text/first-line'
import { mayAnywhere } from '@dystracer/core/people/standing'
import { simpleParser, type ParsedMail } from 'mailparser'
import { Problem } from '@dystracer/core/basics/problem'
import { isSenderProven } from '@dystracer/core/incoming/mail-proof'
import { parseReferences } from '@dystracer/core/text/references'
import { sql } from '#platform/db/statements'
import { STRANGER, type Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { readReplyAddress, reportToken } from '#subjects/inbox/index'
import { logItem } from '#subjects/items/index'
import { archivedProjects, projectOf, whoIsPerson, personByAddress } from '#subjects/people/index'
import { keyPrefixes, knownKeys, maySee } from '#subjects/records/index'
import { readSetting } from '#subjects/setup/index'
import { addComment } from '#subjects/talk/index'
import { GET_NAME_OF_PROJECT_BY_PROJECT, LIST_PREFIX_OF_PROJECT, LIST_COMPONENT_BY_PROJECT } from './mail-and-form.queries.js'

const TEXT_MAX = 50_000

/** Who speaks for what came by mail: an address is what the mail tells, never who acts. */
const BY_MAIL: Who = { ...STRANGER, actor: 'source:mail' }

/**
 * A mail becomes a report, or, as the answer to one of ours or with an item's key in its subject, a comment. Whom a mail names as its
 * sender is data about it. It acts as somebody (trailers do what they say) only as the answer to a mail to that very person, by the signed
 * address that stood in it, and where a trusted mail server found that it comes from their domain (docs/rules.md#acting-text); from
 * anybody else it is words, and a report waits in Triage. The same message twice changes nothing. `project` is the one that it is for, null
 * for the one that its recipient names, or the first. Gives the item's key; null for what no person wrote: two machines that answer each
 * other would never end.
 */
export async function receiveMail(ctx: ServiceContext, raw: Buffer, project: string | null = null): Promise<string | null> {
  const mail = await simpleParser(raw, { skipHtmlToText: false, skipImageLinks: true })
  if (isAutomatic(mail)) return null
  const address = mail.from?.value[0]?.address?.toLowerCase() ?? ''
  if (!/^[^@\s]+@[^@\s]+$/.test(address)) throw new Problem('invalid-input', { fields: { from: 'The mail names no sender' } })
  const sender = provenSender(ctx, mail, address)
  const title = (mail.subject ?? '')
    .replace(/^\s*(?:(?:re|fwd?|aw|wg)\s*:\s*)+/i, '')
    .trim()
    .slice(0, 200)
  const text = withoutQuote(mail.text ?? '').slice(0, TEXT_MAX)
  if (title === '' && text === '') throw new Problem('invalid-input', { fields: { subject: 'The mail is empty' } })
  const messageId = mail.messageId
  const answered = recipientsOf(mail)
    .map((recipient) => readReplyAddress(ctx, recipient))
    .find((found) => found !== null)
  if (answered) {
    const isHolder = sender !== null && sender.personId === answered.personId
    addComment(ctx, isHolder ? sender : BY_MAIL, answered.key, {
      text: text || title,
      ...(!isHolder && { from: address }),
      ...(messageId && { messageId }),
    })
    return answered.key
  }
  const [named] = knownKeys(ctx.db, parseReferences(mail.subject ?? '', keyPrefixes(ctx.db)).named)
  if (named && sender !== null && maySee(ctx.db, sender, named) && (project === null || projectOf(named) === project)) {
    addComment(ctx, BY_MAIL, named, { text: text || title, from: address, ...(messageId && { messageId }) })
    return named
  }
  return logItem(
    ctx,
    BY_MAIL,
    {
      title: title || firstLine(text).slice(0, 200) || 'A mail without a subject',
      description: text,
      project: project ?? projectOfMail(ctx, mail),
    },
    { idempotencyKey: messageId, from: address, reporterId: sender?.personId ?? null },
  )
}

/** The account of the sender, where a trusted mail server proves their address and they may log; null for everybody else. */
function provenSender(ctx: ServiceContext, mail: ParsedMail, address: string): Who | null {
  const results = mail.headerLines
    .filter((line) => line.key === 'authentication-results')
    .map((line) => line.line.slice(line.line.indexOf(':') + 1).replace(/\r?\n/g, ' '))
  if (!isSenderProven({ results, address, trustedHosts: ctx.config.mailTrustedHosts })) return null
  const person = personByAddress(ctx.db, address)
  if (!person) return null
  const who = whoIsPerson(ctx.db, person.personId)
  return mayAnywhere(who, 'items.log') ? who : null
}

/** The project whose prefix a recipient bears (`emb@…`), else the first. */
function projectOfMail(ctx: ServiceContext, mail: ParsedMail): string {
  const names = recipientsOf(mail).map((recipient) => recipient.split('@', 1)[0]?.toUpperCase() ?? '')
  const projects = sql(ctx.db, LIST_PREFIX_OF_PROJECT)
    .all<{ prefix: string }>({})
    .map((row) => row.prefix)
  return projects.find((prefix) => names.includes(prefix)) ?? projects[0] ?? ''
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

/** The new part of an answer: what stands above the first quoted block. */
function withoutQuote(text: string): string {
  const lines = text.replace(/\r\n?/g, '\n').split('\n')
  const quote = lines.findIndex(
    (line, index) => /^>/.test(line) || (/^(?:On|Am) .{5,200}(?:wrote|schrieb):\s*$/.test(line) && /^>|^$/.test(lines[index + 1] ?? '')),
  )
  return (quote > 0 ? lines.slice(0, quote) : lines).join('\n').trim()
}

/** What the public form asks; throws `not-found` where a project has not switched it on. */
export function readPublicForm(ctx: ServiceContext, project: string): { name: string; components: string[] } {
  const name = sql(ctx.db, GET_NAME_OF_PROJECT_BY_PROJECT).get<{ name: string }>({ project })?.name
  const isOn = readSetting(ctx.db, project, 'public-form') === 'on' && !archivedProjects(ctx.db).includes(project)
  if (name === undefined || !isOn) throw new Problem('not-found', { detail: 'This project takes no reports by a public form.' })
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
