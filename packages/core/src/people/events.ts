import type { Role } from './permissions.js'

/** The journal's events of people and their bodies. */
export interface PeopleEvents {
  'person-added': { personId: string; name: string; initials: string; email: string }
  'role-given': { project: string; personId: string; role: Role }
  'role-taken': { project: string; personId: string; role: Role }
  'person-renamed': { personId: string; from: string; to: string; initials: string }
}
