import type { JournalWriter } from '#platform/journal/journal'
import type { SignUp } from '@dystracer/core/people/wire'
import { requireRight, whoIsPerson } from './access.js'
import { NO_STANDING, type Standing } from '@dystracer/core/people/standing'
import { mailerOf } from './mailer.slot.js'
import { createHash, randomBytes } from 'node:crypto'
import { hash, verify } from '@node-rs/argon2'
import { Problem } from '@dystracer/core/basics/problem'
import type { Role } from '@dystracer/core/people/permissions'
import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'
import type { Actor } from '@dystracer/core/contract/events'
import type { Scope, Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import {
  DELETE_SECRET,
  DELETE_SECRET_BY_NAME,
  DELETE_SECRET_BY_PERSON_ID,
  DELETE_SESSION,
  DELETE_SESSION_BY_SESSION_HASH,
  GET_NAME_OF_PERSON_BY_PERSON_ID,
  GET_PERSON_BY_EMAIL,
  GET_PERSON_ID_OF_CREDENTIAL,
  GET_PERSON_ID_OF_PERSON_BY_EMAIL,
  GET_PREFIX_OF_PROJECT,
  GET_SECRET_BY_NAME,
  GET_SESSION_BY_SESSION_HASH,
  HAS_PERSON_BY_PERSON_ID,
  INSERT_CREDENTIAL,
  INSERT_SECRET,
  INSERT_SESSION,
} from './accounts.queries.js'
import { rememberSecret } from './secrets.js'

const SESSION_MS = 14 * 24 * 3600_000
/** OWASP's minimum for argon2id. */
const ARGON = { memoryCost: 19_456, timeCost: 2, parallelism: 1 }
const DUMMY_HASH = hash('nobody has this password', ARGON)

export interface NewSession {
  secret: string
  csrfToken: string
  expiresAtMs: number
}

/** Opens a session. Takes as long for an unknown address as for a wrong password. Throws `wrong-credentials`. */
export async function signIn(ctx: ServiceContext, input: { email: string; password: string }): Promise<NewSession> {
  const row = sql(ctx.db, GET_PERSON_BY_EMAIL).get<{ person_id: string; password_hash: string }>({ email: input.email.trim() })
  const isRight = await verify(row?.password_hash ?? (await DUMMY_HASH), input.password)
  if (!row || !isRight) throw new Problem('wrong-credentials', { detail: 'No account has this address with this password.' })
  return openSession(ctx, row.person_id)
}

function openSession(ctx: ServiceContext, personId: string): NewSession {
  const secret = randomBytes(32).toString('base64url')
  const session = { secret, csrfToken: randomBytes(24).toString('base64url'), expiresAtMs: ctx.nowMs() + SESSION_MS }
  sql(ctx.db, DELETE_SESSION).run({ nowMs: ctx.nowMs() })
  sql(ctx.db, INSERT_SESSION).run({ sessionHash: digest(secret), personId, csrfToken: session.csrfToken, expiresAtMs: session.expiresAtMs })
  return session
}

export function signOut(ctx: ServiceContext, secret: string): void {
  sql(ctx.db, DELETE_SESSION_BY_SESSION_HASH).run({ sessionHash: digest(secret) })
}

/** Who holds this session; null when it is unknown or over. */
export function whoBySession(ctx: ServiceContext, secret: string): Who | null {
  const row = sql(ctx.db, GET_SESSION_BY_SESSION_HASH).get<{
    person_id: string
    csrf_token: string
  }>({ sessionHash: digest(secret), nowMs: ctx.nowMs() })
  return row ? { ...whoIsPerson(ctx.db, row.person_id), csrfToken: row.csrf_token } : null
}

export async function setPassword(ctx: Pick<ServiceContext, 'db'>, personId: string, password: string): Promise<void> {
  const passwordHash = await hash(password, ARGON)
  sql(ctx.db, INSERT_CREDENTIAL).run({ personId, passwordHash })
}

/** The secret of the one-time link for the first administrator; null when someone can sign in already. */
export function firstAdminSecret(ctx: ServiceContext): string | null {
  if (sql(ctx.db, GET_PERSON_ID_OF_CREDENTIAL).get({})) return null
  return rememberSecret(ctx.db, 'first-admin', () => randomBytes(24).toString('base64url'))
}

/** Whom a sign-up link is for: the first administrator (without a name), or somebody invited. Throws `wrong-token`. */
export function readSignUp(ctx: ServiceContext, secret: string): { name: string; email: string; needsProject: boolean } {
  const invited = invitedBy(ctx.db, secret)
  if (invited) return { name: invited.name, email: invited.email, needsProject: false }
  requireFirstAdmin(ctx, secret)
  return { name: '', email: '', needsProject: projectPrefix(ctx.db) === '' }
}

function invitedBy(db: Db, secret: string): { person_id: string; name: string; email: string } | undefined {
  return sql(db, GET_SECRET_BY_NAME).get<{
    person_id: string
    name: string
    email: string
  }>({ name: inviteName(secret) })
}

const inviteName = (secret: string): string => `invite/${digest(secret)}`

function requireFirstAdmin(ctx: ServiceContext, secret: string): void {
  const expected = firstAdminSecret(ctx)
  if (!expected || digest(expected) !== digest(secret))
    throw new Problem('wrong-token', {
      detail:
        'This sign-up link was used already or is not complete. The server prints a fresh one while nobody can sign in; who invited you can do so again.',
    })
}

/**
 * Makes the account that a sign-up link is for and signs its owner in: somebody invited, or the first administrator. Throws `wrong-token`
 * when the link was used or is not the right one.
 */
export async function signUp(ctx: ServiceContext, input: SignUp): Promise<NewSession> {
  const invited = invitedBy(ctx.db, input.secret)
  if (invited) {
    await setPassword(ctx, invited.person_id, input.password)
    sql(ctx.db, DELETE_SECRET_BY_NAME).run({ name: inviteName(input.secret) })
    return openSession(ctx, invited.person_id)
  }
  requireFirstAdmin(ctx, input.secret)
  const personId = freePersonId(ctx.db, input.name)
  const known = projectPrefix(ctx.db)
  const made = known === '' ? firstProject(input) : null
  ctx.journal.write((writer) => {
    if (made) makeProject(writer, `person:${personId}`, made)
    writePerson(writer, 'system', { personId, name: input.name, email: input.email, project: made?.prefix ?? known, role: 'admin' })
  })
  await setPassword(ctx, personId, input.password)
  sql(ctx.db, DELETE_SECRET).run({})
  return openSession(ctx, personId)
}

interface NewPerson {
  name: string
  email: string
  project: string
  role: Role
}

/** Writes down a new person with a role; the id follows from the name. */
function addPerson(ctx: ServiceContext, actor: Actor, { name, email, project, role }: NewPerson): string {
  const personId = freePersonId(ctx.db, name)
  ctx.journal.write((writer) => writePerson(writer, actor, { personId, name, email, project, role }))
  return personId
}

function writePerson(
  writer: JournalWriter,
  actor: Actor,
  { personId, name, email, project, role }: NewPerson & { personId: string },
): void {
  const initials = name
    .split(/\s+/)
    .map((word) => word[0]?.toUpperCase() ?? '')
    .join('')
    .slice(0, 2)
  writer.append({ kind: 'person-added', actor, subjects: [`person:${personId}`], body: { personId, name, initials, email } })
  writer.append({ kind: 'role-given', actor, subjects: [`person:${personId}`, `project:${project}`], body: { project, personId, role } })
}

/** The first project, from what the first administrator wrote; throws `invalid-input` by field. */
function firstProject({ project }: SignUp): { name: string; prefix: string } {
  if (!project)
    throw new Problem('invalid-input', {
      fields: { 'project.name': 'Name the project that you begin with', 'project.prefix': 'Its items need a prefix' },
    })
  if (project.prefix === RESERVED_PREFIX)
    throw new Problem('invalid-input', { fields: { 'project.prefix': 'F is for faults. Choose another one' } })
  return project
}

/** Faults are F-1, F-2 and so on. */
export const RESERVED_PREFIX = 'F'
const SILENCE_MS = 7 * 86_400_000

/** Writes a new project down: a fault is silent for good after a week, until somebody says otherwise. */
export function makeProject(writer: JournalWriter, actor: Actor, { name, prefix }: { name: string; prefix: string }): void {
  writer.append({
    kind: 'project-created',
    actor,
    subjects: [`project:${prefix}`],
    body: { prefix, name, silenceMs: SILENCE_MS, requirementPrefixes: [] },
  })
}

function freePersonId(db: Db, name: string): string {
  const stem =
    name
      .toLowerCase()
      .normalize('NFKD')
      .replace(/\p{M}/gu, '')
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 60) || 'person'
  for (let count = 1; ; count++) {
    const personId = count === 1 ? stem : `${stem}-${count}`
    if (!sql(db, HAS_PERSON_BY_PERSON_ID).get({ personId })) return personId
  }
}

/**
 * Invites somebody into a project: they can be given items at once, and sign up by the link in the mail that goes to them. Who is here
 * already by this address is given the role where they had
 * none. Gives their id. A mail that cannot be handed over is tried again by inviting once more.
 */
export async function invitePerson(ctx: ServiceContext, who: Who, { name, email, project, role }: NewPerson): Promise<string> {
  requireRight(who, role === 'admin' ? 'people.make-admin' : 'people.invite', project)
  const known = sql(ctx.db, GET_PERSON_ID_OF_PERSON_BY_EMAIL).get<{ person_id: string; has_role: number; can_sign_in: number }>({
    email,
    project,
  })
  if (known && known.has_role === 0)
    ctx.journal.write((writer) => {
      const subjects = [`person:${known.person_id}`, `project:${project}`]
      writer.append({ kind: 'role-given', actor: who.actor, subjects, body: { project, personId: known.person_id, role } })
    })
  const personId = known?.person_id ?? addPerson(ctx, who.actor, { name, email, project, role })
  if (known?.can_sign_in !== 1) {
    const secret = randomBytes(24).toString('base64url')
    sql(ctx.db, DELETE_SECRET_BY_PERSON_ID).run({ personId })
    sql(ctx.db, INSERT_SECRET).run({ name: inviteName(secret), value: personId })
    const by = sql(ctx.db, GET_NAME_OF_PERSON_BY_PERSON_ID).get<{ name: string }>({ personId: who.personId ?? '' })
    ctx.background.add(
      mailerOf(ctx).send({
        to: email,
        subject: `${by?.name ?? 'Dystracer'} invites you to ${project}`,
        headers: { 'Auto-Submitted': 'auto-generated' },
        text: `${name},\n\n${by?.name ?? 'Somebody'} works on ${project} with Dystracer and has put you down as somebody who does, too.\nChoose a password to begin:\n\n${ctx.config.publicUrl}/sign-up/${secret}\n\nThe link is yours alone and holds once.\n`,
      }),
      'an invitation',
    )
  }
  return personId
}

export function projectPrefix(db: Db): string {
  return sql(db, GET_PREFIX_OF_PROJECT).get<{ prefix: string }>({})?.prefix ?? ''
}

function digest(secret: string): string {
  return createHash('sha256').update(secret).digest('base64url')
}
