import type { Role } from '@dystracer/core/contract/common'
import { Problem } from '@dystracer/core/basics/problem'
import type { Actor } from '../journal/events.js'

export type Scope = 'intake' | 'read' | 'write' | 'admin'

/** Who is asking. `role` is null for people without membership and for strangers. */
export interface Who {
  actor: Actor
  personId: string | null
  role: Role | null
  via: 'session' | 'token' | 'anonymous'
  scope: Scope | null
  csrfToken: string | null
}

const RANK: Record<Role, number> = { reader: 0, member: 1, lead: 2, admin: 3 }

/** Refuses unless the person's role is at least this high; says so in plain words. Throws `sign-in-required` or `not-allowed`. */
export function requireRole(who: Who, role: Role): void {
  if (who.role !== null && RANK[who.role] >= RANK[role]) return
  if (who.via === 'anonymous')
    throw new Problem('sign-in-required', { detail: 'You are reading as a guest. Sign in to do this; nothing was changed.' })
  throw new Problem('not-allowed', { detail: `This takes the role "${role}"; you have "${who.role ?? 'none'}". Ask a lead of the project.` })
}
