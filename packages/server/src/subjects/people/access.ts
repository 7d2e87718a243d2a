import type { Role } from '@dystracer/core/people/wire'
import { Problem } from '@dystracer/core/basics/problem'
import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'
import type { Actor } from '@dystracer/core/contract/events'

export type Scope = 'intake' | 'read' | 'write' | 'admin'

/** Who is asking. `role` is null for people without membership and for strangers. */
export interface Who {
  actor: Actor
  personId: string | null
  role: Role | null
  via: 'session' | 'token' | 'anonymous'
  scope: Scope | null
  csrfToken: string | null
  /** The only project that a token is for; null or absent for all. */
  project?: string | null
}

/** Someone without an account: a mail from outside, the public form, a private link. */
export const STRANGER: Who = { actor: 'anonymous', personId: null, role: null, via: 'anonymous', scope: null, csrfToken: null }

/**
 * The asker as they stand in one project: a person by their membership there (elsewhere a member of any project may read), a token only where it is for that project or for all.
 */
export function inProject(db: Db, who: Who, project: string): Who {
  if (who.via === 'token') return who.project === undefined || who.project === null || who.project === project ? who : { ...who, role: null }
  if (who.personId === null) return who
  return { ...who, role: roleOfPerson(db, who.personId, project) }
}

/** A person's role in one project; elsewhere a member of any project may read. Null for a stranger. */
export function roleOfPerson(db: Db, personId: string, project: string): Role | null {
  const rows = sql<object, { project: string; role: Role }>(db, 'SELECT project, role FROM membership WHERE person_id = @personId').all({ personId })
  return rows.find((row) => row.project === project)?.role ?? (rows.length > 0 ? 'reader' : null)
}

/** The project whose items bear a key. */
export function projectOf(key: string): string {
  return key.slice(0, key.lastIndexOf('-'))
}

const RANK: Record<Role, number> = { reader: 0, member: 1, lead: 2, admin: 3 }

/** Refuses unless the person's role is at least this high; says so in plain words. Throws `sign-in-required` or `not-allowed`. */
export function requireRole(who: Who, role: Role): void {
  if (who.role !== null && RANK[who.role] >= RANK[role]) return
  if (who.via === 'anonymous')
    throw new Problem('sign-in-required', { detail: 'You are reading as a guest. Sign in to do this; nothing was changed.' })
  throw new Problem('not-allowed', { detail: `This takes the role "${role}"; you have "${who.role ?? 'none'}". Ask a lead of the project.` })
}
