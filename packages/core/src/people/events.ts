import type { Role } from './permissions.js'

/** The journal's events of people and their bodies. */
export interface PeopleEvents {
  'person-added': { personId: string; name: string; initials: string; email: string }
  'role-given': { project: string; personId: string; role: Role }
  'role-taken': { project: string; personId: string; role: Role }
  /** Somebody left for good: they cannot sign in any more; what they did keeps their name. A role given again opens it. */
  'account-closed': { personId: string }
  /** Somebody says that an address is theirs; it counts once it is confirmed. */
  'address-claimed': { personId: string; email: string }
  /** What comes from this address is theirs from now on: they opened the link that was mailed to it, or an administrator says so. */
  'address-confirmed': { personId: string; email: string }
  'address-given-up': { personId: string; email: string }
  /** By which zone days begin for somebody; null is UTC. */
  'time-zone-chosen': { personId: string; timeZone: string | null }
  'person-renamed': { personId: string; from: string; to: string; initials: string }
}
