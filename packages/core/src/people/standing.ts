import { higherRole, holdsArchived, roleAllows, type Permission, type Role } from './permissions.js'

/**
 * Where somebody stands: a role in each project that they belong to. `everywhere` is for tokens of all projects and for guests of an
 * installation that may be read unsigned.
 */
export interface Standing {
  roles: Readonly<Record<string, Role>>
  everywhere: Role | null
  /** The projects that are archived: there only the rights are left that hold in such a one. */
  archived?: readonly string[]
}

/** Nobody in particular: a mail from outside, the public form. */
export const NO_STANDING: Standing = { roles: {}, everywhere: null }

/** Somebody's role in one project; null where they have none. A right holds in a project, never elsewhere. */
export function roleIn({ roles, everywhere }: Standing, project: string): Role | null {
  return higherRole(Object.hasOwn(roles, project) ? (roles[project] ?? null) : null, everywhere)
}

/** Whether somebody has a right in one project. */
export function mayIn(standing: Standing, permission: Permission, project: string): boolean {
  return isOpenFor(standing, permission, project) && roleAllows(roleIn(standing, project), permission)
}

/** Whether a right can be had in a project at all, which an archived one leaves to few. */
export function isOpenFor({ archived = [] }: Standing, permission: Permission, project: string): boolean {
  return holdsArchived(permission) || !archived.includes(project)
}

/** Whether somebody has a right in some project at least; for what belongs to no project. */
export function mayAnywhere(standing: Standing, permission: Permission): boolean {
  return roleAllows(standing.everywhere, permission) || projectsWhere(standing, permission).length > 0
}

/** The projects in which somebody has a right by a role of their own; what `everywhere` gives comes on top. */
export function projectsWhere(standing: Standing, permission: Permission): string[] {
  const { roles } = standing
  return Object.keys(roles).filter((project) => roleAllows(roles[project] ?? null, permission) && isOpenFor(standing, permission, project))
}
