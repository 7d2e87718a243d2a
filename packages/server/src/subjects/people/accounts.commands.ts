import { randomBytes } from 'node:crypto'
import { Problem } from '@dystracer/core/basics/problem'
import type { Actor } from '@dystracer/core/contract/events'
import type { SignUp } from '@dystracer/core/people/wire'
import type { ServiceContext } from '#platform/context'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { DELETE_SECRET, GET_PERSON_ID_OF_CREDENTIAL, GET_PREFIX_OF_PROJECT } from './accounts.queries.js'
import { personOfLink, useUpLink } from './links.js'
import { freePersonId, writePerson } from './members.commands.js'
import { requireGoodPassword, setPassword } from './passwords.js'
import { digestOf, rememberSecret } from './secrets.js'
import { type NewSession, openSession } from './sessions.commands.js'

/** The secret of the one-time link for the first administrator; null when someone can sign in already. */
export function firstAdminSecret(ctx: ServiceContext): string | null {
  if (sql(ctx.db, GET_PERSON_ID_OF_CREDENTIAL).get({})) return null
  return rememberSecret(ctx.db, 'first-admin', () => randomBytes(24).toString('base64url'))
}

/** Whom a sign-up link is for: the first administrator (without a name), or somebody invited. Throws `wrong-token`. */
export function readSignUp(ctx: ServiceContext, secret: string): { name: string; email: string; needsProject: boolean } {
  const invited = personOfLink(ctx, 'invite', secret)
  if (invited) return { name: invited.name, email: invited.email, needsProject: false }
  requireFirstAdmin(ctx, secret)
  return { name: '', email: '', needsProject: projectPrefix(ctx.db) === '' }
}

function requireFirstAdmin(ctx: ServiceContext, secret: string): void {
  const expected = firstAdminSecret(ctx)
  if (!expected || digestOf(expected) !== digestOf(secret)) throw usedLink()
}

/**
 * Makes the account that a sign-up link is for and signs its owner in: somebody invited, or the first administrator. Throws `wrong-token`
 * when the link was used, also by another at the same moment, or is not the right one.
 */
export async function signUp(ctx: ServiceContext, input: SignUp, place: string): Promise<NewSession> {
  const invited = personOfLink(ctx, 'invite', input.secret)
  requireGoodPassword(input.password, { field: 'password', known: [input.name, input.email] })
  if (invited) {
    if (!useUpLink(ctx, 'invite', input.secret)) throw usedLink()
    await setPassword(ctx, invited.person_id, input.password)
    return openSession(ctx, invited.person_id, place)
  }
  requireFirstAdmin(ctx, input.secret)
  const personId = freePersonId(ctx.db, input.name)
  const known = projectPrefix(ctx.db)
  const made = known === '' ? firstProject(input) : null
  // The link is used up before anything that takes time: of two with it, the second finds it gone.
  sql(ctx.db, DELETE_SECRET).run({})
  ctx.journal.write((writer) => {
    if (made) makeProject(writer, `person:${personId}`, made)
    writePerson(writer, 'system', { personId, name: input.name, email: input.email, project: made?.prefix ?? known, role: 'admin' })
  })
  await setPassword(ctx, personId, input.password)
  return openSession(ctx, personId, place)
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

export function projectPrefix(db: Db): string {
  return sql(db, GET_PREFIX_OF_PROJECT).get<{ prefix: string }>({})?.prefix ?? ''
}

function usedLink(): Problem {
  return new Problem('wrong-token', {
    detail:
      'This sign-up link was used already, is over or is not complete. The server prints a fresh one while nobody can sign ' +
      'in; who invited you can do so again.',
  })
}
