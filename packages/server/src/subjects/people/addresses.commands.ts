import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { OwnProfile, PersonAddress } from '@dystracer/core/people/wire'
import type { ServiceContext } from '#platform/context'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { PeopleEvents } from '@dystracer/core/people/events'
import { LIST_ADDRESSES_OF_PERSON } from './accounts.queries.js'
import { mailerOf } from '#platform/mail/mailer.slot'
import { requireMember } from './members.commands.js'
import { personByAddress, personOf } from './persons.js'
import { isSignOf, signOf } from './signing.js'

const LINK_KEPT_MS = 7 * 86_400_000
const ADDRESSES_MAX = 20

/** The asker's own account. Throws `not-found`. */
export function readProfile(ctx: ServiceContext, who: Who): OwnProfile {
  const personId = who.personId ?? ''
  const person = personOf(ctx.db, personId)
  if (!person) throw new Problem('not-found', { detail: 'There is no such account.' })
  return { ...person, addresses: addressesOf(ctx.db, personId), hasMail: mailerOf(ctx).isNone !== true }
}

/** The further addresses of somebody, those that are not confirmed yet as well. */
export function addressesOf(db: Db, personId: string): PersonAddress[] {
  return sql(db, LIST_ADDRESSES_OF_PERSON).all<PersonAddress>({ personId })
}

/**
 * Writes down that the asker says an address to be theirs, and mails a link there; claimed once more, the
 * link goes out again. Where no mail goes out the claim waits for an administrator. Throws `conflict` for
 * an address of somebody else, and for too many.
 */
export function claimAddress(ctx: ServiceContext, who: Who, email: string): void {
  const personId = who.personId ?? ''
  if (isOwn(ctx.db, { personId, email })) return
  const known = addressesOf(ctx.db, personId)
  if (known.length >= ADDRESSES_MAX)
    throw new Problem('conflict', { detail: `Nobody has more than ${ADDRESSES_MAX} further addresses here. Give one up first.` })
  const before = known.find((row) => row.email.toLowerCase() === email.toLowerCase())
  if (!before) append(ctx, who, 'address-claimed', { personId, email })
  const mailer = mailerOf(ctx)
  if (mailer.isNone) return
  const name = personOf(ctx.db, personId)?.name ?? 'Somebody'
  const link = `${ctx.config.publicUrl}/address/${secretFor(ctx, { personId, email: before?.email ?? email })}`
  ctx.background.add(
    mailer.send({
      to: email,
      subject: 'Is this address yours?',
      headers: { 'Auto-Submitted': 'auto-generated' },
      text:
        `${name} says in Dystracer that commits and mails from this address are theirs. If that is you, open this ` +
        `within a week, signed in as yourself:\n\n${link}\n\nWhoever does nothing keeps the address to themselves.\n`,
    }),
    'a link to confirm an address',
  )
}

/**
 * Confirms an address by the link that was mailed to it. Only the person who claimed it can: somebody who is led to open another's link
 * gives nothing away. Throws `wrong-token`, `conflict`.
 */
export function confirmAddress(ctx: ServiceContext, who: Who, secret: string): PersonAddress {
  const personId = who.personId ?? ''
  const email = addressOfSecret(ctx, personId, secret)
  if (email === null || !addressesOf(ctx.db, personId).some((row) => row.email === email))
    throw new Problem('wrong-token', {
      detail: 'This link is over, or was made for another account. Sign in as who claimed the address, or claim it again under your name.',
    })
  if (!isOwn(ctx.db, { personId, email })) append(ctx, who, 'address-confirmed', { personId, email })
  return { email, confirmedAtMs: ctx.nowMs() }
}

/** An administrator, who knows, says that an address is a member's. Throws `not-found`, `conflict`. */
export function writeAddressDown(ctx: ServiceContext, who: Who, input: { project: string; personId: string; email: string }): void {
  const { personId, email } = input
  requireMember(ctx.db, input)
  if (isOwn(ctx.db, { personId, email })) return
  append(ctx, who, 'address-confirmed', { personId, email })
}

/** Gives one of the asker's further addresses up; commits from it are nobody's again. Throws `not-found`. */
export function giveUpAddress(ctx: ServiceContext, who: Who, email: string): void {
  const personId = who.personId ?? ''
  const known = addressesOf(ctx.db, personId).find((row) => row.email.toLowerCase() === email.toLowerCase())
  if (!known) throw new Problem('not-found', { detail: `${email} is none of your further addresses.` })
  append(ctx, who, 'address-given-up', { personId, email: known.email })
}

/** Whether an address counts as somebody's already. Throws `conflict` where it is another's. */
function isOwn(db: Db, { personId, email }: { personId: string; email: string }): boolean {
  const owner = personByAddress(db, email)
  if (owner && owner.personId !== personId)
    throw new Problem('conflict', { detail: 'Somebody else has this address already; nothing was changed.' })
  return owner !== undefined
}

function append(
  ctx: ServiceContext,
  who: Who,
  kind: 'address-claimed' | 'address-confirmed' | 'address-given-up',
  body: PeopleEvents['address-claimed'],
): void {
  ctx.journal.write((writer) => writer.append({ kind, actor: who.actor, subjects: [`person:${body.personId}`], body }))
}

/** What stands in the link: the address, until when it holds, and a sign that only this installation makes, for this person alone. */
function secretFor(ctx: ServiceContext, { personId, email }: { personId: string; email: string }): string {
  const told = `${Buffer.from(email).toString('base64url')}.${ctx.nowMs() + LINK_KEPT_MS}`
  return `${told}.${signOf(ctx, 'address', `${personId} ${told}`)}`
}

function addressOfSecret(ctx: ServiceContext, personId: string, secret: string): string | null {
  const [, told = '', email = '', untilMs = '0', sign = ''] = /^(([\w-]+)\.(\d{1,15}))\.([\w-]+)$/.exec(secret) ?? []
  if (!isSignOf(ctx, 'address', `${personId} ${told}`, sign) || Number(untilMs) < ctx.nowMs()) return null
  return Buffer.from(email, 'base64url').toString()
}
