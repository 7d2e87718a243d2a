import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { GET_CREDENTIAL_BY_PERSON_ID, GET_PERSON_BY_EMAIL } from './accounts.queries.js'
import { makeLink, personOfLink, useUpLink } from './links.js'
import { mailerOf } from '#platform/mail/mailer.slot'
import { requireMember } from './members.commands.js'
import { isPassword, requireGoodPassword, setPassword } from './passwords.js'
import { endOtherSessions } from './sessions.commands.js'

/**
 * Changes the asker's own password; every session but the one that asks ends. Throws `invalid-input` for a wrong old password and for a new
 * one that would be guessed.
 */
export async function changePassword(
  ctx: ServiceContext,
  who: Who,
  input: { current: string; next: string; secret: string },
): Promise<void> {
  const personId = who.personId ?? ''
  const row = sql(ctx.db, GET_CREDENTIAL_BY_PERSON_ID).get<{ password_hash: string; name: string; email: string }>({ personId })
  if (!(await isPassword(row?.password_hash, input.current)))
    throw new Problem('invalid-input', { fields: { current: 'This is not your password' } })
  requireGoodPassword(input.next, { field: 'next', known: [row?.name ?? '', row?.email ?? ''] })
  await setPassword(ctx, personId, input.next)
  endOtherSessions(ctx, personId, input.secret)
}

/** Mails a link by which a forgotten password is replaced; does nothing, and says nothing, where nobody has the address. */
export function askReset(ctx: ServiceContext, email: string): void {
  const row = sql(ctx.db, GET_PERSON_BY_EMAIL).get<{ person_id: string }>({ email: email.trim() })
  if (!row) return
  const link = resetUrl(ctx, makeLink(ctx, 'reset', row.person_id))
  ctx.background.add(
    mailerOf(ctx).send({
      to: email.trim(),
      subject: 'A new password for Dystracer',
      headers: { 'Auto-Submitted': 'auto-generated' },
      text:
        `Somebody, you we hope, asked for a new password. Choose it here within the hour:\n\n` +
        `${link}\n\nWhoever does nothing keeps the password that they have.\n`,
    }),
    'a link to a new password',
  )
}

/** A link by which a member chooses a new password, for whoever has no mail to get it by. Throws `not-found`. */
export function makeResetLink(ctx: ServiceContext, input: { project: string; personId: string }): string {
  requireMember(ctx.db, input)
  return resetUrl(ctx, makeLink(ctx, 'reset', input.personId))
}

/** A new password by such a link, once; all sessions of the account end. Gives whose it is. Throws `wrong-token`, `invalid-input`. */
export async function resetPassword(ctx: ServiceContext, input: { secret: string; password: string }): Promise<string> {
  const person = personOfLink(ctx, 'reset', input.secret)
  if (!person) throw overLink()
  requireGoodPassword(input.password, { field: 'password', known: [person.name, person.email] })
  if (!useUpLink(ctx, 'reset', input.secret)) throw overLink()
  await setPassword(ctx, person.person_id, input.password)
  endOtherSessions(ctx, person.person_id, '')
  return person.person_id
}

function overLink(): Problem {
  return new Problem('wrong-token', { detail: 'This link was used already, or its hour is over. Ask for a new one where you sign in.' })
}

function resetUrl(ctx: Pick<ServiceContext, 'config'>, secret: string): string {
  return `${ctx.config.publicUrl}/reset/${secret}`
}
