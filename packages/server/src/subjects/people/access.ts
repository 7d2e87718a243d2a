import { dayIn } from '@dystracer/core/basics/days'
import { Problem } from '@dystracer/core/basics/problem'
import { PERMISSIONS, type Permission, type Role } from '@dystracer/core/people/permissions'
import { isOpenFor, mayAnywhere, mayIn, projectsWhere, roleIn } from '@dystracer/core/people/standing'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { personOf } from './persons.js'
import { LIST_ARCHIVED_PROJECTS, LIST_MEMBERSHIP_BY_PERSON_ID } from './access.queries.js'

/** A person's role in each project that they belong to. */
export function rolesOfPerson(db: Db, personId: string): Record<string, Role> {
  const rows = sql(db, LIST_MEMBERSHIP_BY_PERSON_ID).all<{ project: string; role: Role }>({ personId })
  return Object.fromEntries(rows.map((row) => [row.project, row.role]))
}

/** The projects that are archived. */
export function archivedProjects(db: Db): string[] {
  return sql(db, LIST_ARCHIVED_PROJECTS)
    .all<{ prefix: string }>({})
    .map((row) => row.prefix)
}

/** A person as they stand now, for acts that come another way than by their own session (mail, the demo's past). */
export function whoIsPerson(db: Db, personId: string): Who {
  return {
    actor: `person:${personId}`,
    personId,
    roles: rolesOfPerson(db, personId),
    everywhere: null,
    archived: archivedProjects(db),
    via: 'session',
    scope: null,
    csrfToken: null,
    timeZone: personOf(db, personId)?.timeZone ?? null,
    provenAtMs: null,
    limits: null,
  }
}

/** The day that it is for somebody; days begin by their own zone. */
export function todayOf(ctx: Pick<ServiceContext, 'nowMs'>, who: Pick<Who, 'timeZone'>): string {
  return dayIn(who.timeZone ?? null, ctx.nowMs())
}

/** The project whose items bear a key. */
export function projectOf(key: string): string {
  return key.slice(0, key.lastIndexOf('-'))
}

/** Refuses unless the asker has the right in the project, in plain words. Throws `sign-in-required` or `not-allowed`. */
export function requireRight(who: Who, permission: Permission, project: string): void {
  if (mayIn(who, permission, project)) return
  if (mayIn({ ...who, archived: [] }, permission, project)) throw archivedRefusal(project)
  throw refusal(who, permission, roleIn(who, project), project)
}

/**
 * Refuses unless the asker has the right in one of the projects at least; a thing that belongs to no project is for whoever has the right
 * in any.
 */
export function requireRightInOneOf(who: Who, permission: Permission, projects: readonly string[]): void {
  if (projects.length === 0 ? mayAnywhere(who, permission) : projects.some((project) => mayIn(who, permission, project))) return
  // What an archived project alone stands in the way of: of a thing of its own, or of one that belongs to no project yet.
  const concerned = projects.length === 0 ? (who.archived ?? []) : projects
  const closed = concerned.find((project) => !isOpenFor(who, permission, project) && mayIn({ ...who, archived: [] }, permission, project))
  if (closed !== undefined) throw archivedRefusal(closed)
  throw refusal(who, permission, projects[0] === undefined ? null : roleIn(who, projects[0]), projects[0] ?? null)
}

/** Refuses in an archived project, for what somebody without an account sends there. Throws `not-allowed`. */
export function requireOpen(db: Db, project: string): void {
  if (archivedProjects(db).includes(project)) throw archivedRefusal(project)
}

function archivedRefusal(project: string): Problem {
  return new Problem('not-allowed', {
    detail:
      `${project} is archived: all of it can be read, and nothing in it is changed. An administrator of the project ` +
      `can open it again.`,
  })
}

function refusal(who: Who, permission: Permission, role: Role | null, project: string | null): Problem {
  if (who.via === 'anonymous')
    return new Problem('sign-in-required', { detail: 'You are reading as a guest. Sign in to do this; nothing was changed.' })
  const { from, act } = PERMISSIONS[permission]
  const place = project === null ? 'here' : `in ${project}`
  return new Problem('not-allowed', {
    detail: `To ${act} takes the role "${from}" ${place}; you have "${role ?? 'none'}". Ask a lead of the project; nothing was changed.`,
    facts: { permission },
  })
}

/**
 * Binds for SQL that lets an asker see only what is theirs: `readable` and `confidants` are JSON lists of projects, `readsAll` and
 * `seesAll` say that a token or guest has the right everywhere.
 */
export type ViewerBinds = {
  viewer: string
  readsAll: 0 | 1
  readable: string
  seesAll: 0 | 1
  confidants: string
}

export function viewerOf(who: Who): ViewerBinds {
  return {
    viewer: who.personId ?? '',
    readsAll: who.everywhere === null ? 0 : 1,
    readable: JSON.stringify(projectsWhere(who, 'project.read')),
    seesAll: mayIn({ roles: {}, everywhere: who.everywhere }, 'items.read-confidential', '') ? 1 : 0,
    confidants: JSON.stringify(projectsWhere(who, 'items.read-confidential')),
  }
}
