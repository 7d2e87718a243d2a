import { freeIdFrom } from '@dystracer/core/text/id-from'
import { Problem } from '@dystracer/core/basics/problem'
import type { Actor } from '@dystracer/core/contract/events'
import type { Role } from '@dystracer/core/people/permissions'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { requireRight } from './access.js'
import {
  COUNT_ADMIN_OF_PROJECT,
  DELETE_CREDENTIAL,
  DELETE_SESSIONS_OF_PERSON,
  DELETE_TOKENS_OF_PERSON,
  GET_MEMBERSHIP,
  GET_STANDING_OF_PERSON,
  HAS_PERSON_BY_PERSON_ID,
  LIST_MEMBERSHIPS_OF_PERSON,
} from './accounts.queries.js'
import { DELETE_LINKS_OF_PERSON } from './links.queries.js'
import { makeLink } from './links.js'
import { mailerOf } from '#platform/mail/mailer.slot'
import { personByAddress, personOf } from './persons.js'

/** Somebody who is written down, with a role in a project. */
export interface NewPerson {
  name: string
  email: string
  project: string
  role: Role
}

/**
 * Invites somebody into a project: they can be given items at once, and sign up by a link that goes to them by mail, or comes back to be
 * handed over where no mail goes out. Who is here already by this address is given the role where they had none. A mail that was not taken
 * is sent again by inviting once more.
 */
export function invitePerson(
  ctx: ServiceContext,
  who: Who,
  { name, email, project, role }: NewPerson,
): { personId: string; link: string | null } {
  requireRight(who, role === 'admin' ? 'people.make-admin' : 'people.invite', project)
  const known = sql(ctx.db, GET_STANDING_OF_PERSON).get<{ person_id: string; has_role: number; can_sign_in: number }>({
    personId: personByAddress(ctx.db, email)?.personId ?? '',
    project,
  })
  const personId = known?.person_id ?? freePersonId(ctx.db, name)
  ctx.journal.write((writer) => {
    if (!known) writePerson(writer, who.actor, { personId, name, email, project, role })
    else if (known.has_role === 0) writeRole(writer, who.actor, { project, personId, role })
  })
  if (known?.can_sign_in === 1) return { personId, link: null }
  const link = `${ctx.config.publicUrl}/sign-up/${makeLink(ctx, 'invite', personId)}`
  const mailer = mailerOf(ctx)
  if (mailer.isNone) return { personId, link }
  const by = personOf(ctx.db, who.personId ?? '')?.name ?? 'Somebody'
  ctx.background.add(
    mailer.send({
      to: email,
      subject: `${by} invites you to ${project}`,
      headers: { 'Auto-Submitted': 'auto-generated' },
      text:
        `${name},\n\n${by} works on ${project} with Dystracer and has put you down as somebody who does, too.\n` +
        `Choose a password to begin, within two weeks:\n\n${link}\n\nThe link is yours alone and holds once.\n`,
    }),
    'an invitation',
  )
  return { personId, link: null }
}

/** Gives a member another role. Throws `not-found`, `not-allowed`, `conflict` for the last administrator. */
export function giveRole(ctx: ServiceContext, who: Who, input: { project: string; personId: string; role: Role }): void {
  const { project, personId, role } = input
  const before = requireMember(ctx.db, input)
  if (role === before) return
  requireRightOver(who, { project, roles: [role, before] })
  if (before === 'admin') requireOtherAdmin(ctx.db, project)
  ctx.journal.write((writer) => writeRole(writer, who.actor, { project, personId, role }))
}

/** Takes a member out of a project; what they did stays theirs. Throws as `giveRole` does. */
export function removeMember(ctx: ServiceContext, who: Who, input: { project: string; personId: string }): void {
  ctx.journal.write((writer) => writeRoleTaken(ctx, writer, who, input))
}

/** The projects that somebody belongs to, with their role in each. */
export function membershipsOf(db: Db, personId: string): { project: string; role: Role }[] {
  return sql(db, LIST_MEMBERSHIPS_OF_PERSON).all<{ project: string; role: Role }>({ personId })
}

/** Takes somebody out of a project inside a write. Throws `not-allowed`, and `conflict` for the last administrator. */
export function writeRoleTaken(ctx: ServiceContext, writer: JournalWriter, who: Who, input: { project: string; personId: string }): void {
  const role = requireMember(ctx.db, input)
  requireRightOver(who, { project: input.project, roles: [role] })
  if (role === 'admin') requireOtherAdmin(ctx.db, input.project)
  writer.append({
    kind: 'role-taken',
    actor: who.actor,
    subjects: [`person:${input.personId}`, `project:${input.project}`],
    body: { ...input, role },
  })
}

/**
 * Closes an account inside a write: its password, second factor, sessions, links and tokens end with it. What its owner did stays under
 * their name.
 */
export function writeAccountClosed(ctx: ServiceContext, writer: JournalWriter, who: Who, personId: string): void {
  writer.append({ kind: 'account-closed', actor: who.actor, subjects: [`person:${personId}`], body: { personId } })
  for (const statement of [DELETE_CREDENTIAL, DELETE_SESSIONS_OF_PERSON, DELETE_TOKENS_OF_PERSON]) sql(ctx.db, statement).run({ personId })
  sql(ctx.db, DELETE_LINKS_OF_PERSON).run({ personId, names: '%' })
}

/** Changes the asker's own name, which what they did before bears, too, and by which zone their days begin. */
export function changeMe(ctx: ServiceContext, who: Who, change: { name?: string | undefined; timeZone?: string | null | undefined }): void {
  const personId = who.personId ?? ''
  const before = personOf(ctx.db, personId)
  if (!before) return
  const { name = before.name, timeZone = before.timeZone } = change
  const common = { actor: who.actor, subjects: [`person:${personId}`] }
  ctx.journal.write((writer) => {
    if (name !== before.name)
      writer.append({ ...common, kind: 'person-renamed', body: { personId, from: before.name, to: name, initials: initialsOf(name) } })
    if (timeZone !== before.timeZone) writer.append({ ...common, kind: 'time-zone-chosen', body: { personId, timeZone } })
  })
}

/** A member's role. Throws `not-found`. */
export function requireMember(db: Db, { project, personId }: { project: string; personId: string }): Role {
  const row = sql(db, GET_MEMBERSHIP).get<{ role: Role }>({ project, personId })
  if (!row) throw new Problem('not-found', { detail: `${personId} is no member of ${project}.` })
  return row.role
}

/** Administrators are made and unmade by administrators alone. */
function requireRightOver(who: Who, { project, roles }: { project: string; roles: readonly Role[] }): void {
  requireRight(who, roles.includes('admin') ? 'people.make-admin' : 'people.invite', project)
}

function requireOtherAdmin(db: Db, project: string): void {
  const count = sql(db, COUNT_ADMIN_OF_PROJECT).get<{ count: number }>({ project })?.count ?? 0
  if (count <= 1)
    throw new Problem('conflict', { detail: `This is the last administrator of ${project}. Make another one first; nothing was changed.` })
}

/** Writes down a new person with a role. */
export function writePerson(
  writer: JournalWriter,
  actor: Actor,
  { personId, name, email, project, role }: NewPerson & { personId: string },
): void {
  writer.append({
    kind: 'person-added',
    actor,
    subjects: [`person:${personId}`],
    body: { personId, name, initials: initialsOf(name), email },
  })
  writeRole(writer, actor, { project, personId, role })
}

function writeRole(writer: JournalWriter, actor: Actor, body: { project: string; personId: string; role: Role }): void {
  writer.append({ kind: 'role-given', actor, subjects: [`person:${body.personId}`, `project:${body.project}`], body })
}

function initialsOf(name: string): string {
  return name
    .split(/\s+/)
    .map((word) => word[0]?.toUpperCase() ?? '')
    .join('')
    .slice(0, 2)
}

/** An id that nobody has, made from a name. */
export function freePersonId(db: Db, name: string): string {
  return freeIdFrom(name, { isTaken: (personId) => sql(db, HAS_PERSON_BY_PERSON_ID).get({ personId }) !== undefined, stem: 'person' })
}
