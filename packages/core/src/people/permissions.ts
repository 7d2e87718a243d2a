/** What a person can be in a project, from little to much; each role has all that those before it have. */
export const ROLES = ['reader', 'member', 'lead', 'admin'] as const
/** What a member is in one project; a right follows from it by `PERMISSIONS`. */
export type Role = (typeof ROLES)[number]

/**
 * Every right that the product asks for, by name: from which role on a person has it in a project, and what it lets them do, in words that
 * complete
 * "your role does not let you …". Both sides ask by name; a role is compared nowhere else. `holdsArchived` marks those that are left
 * once a project is archived: it can be read, and who belongs to it can be changed.
 */
export const PERMISSIONS = {
  'project.read': { from: 'reader', act: 'read this project', holdsArchived: true },
  'items.log': { from: 'member', act: 'log items' },
  'items.change': { from: 'member', act: 'change items' },
  'items.decide': { from: 'member', act: 'decide on items' },
  'claims.accept': { from: 'lead', act: 'accept what is claimed without evidence' },
  'items.read-confidential': { from: 'lead', act: 'read confidential items', holdsArchived: true },
  'talk.write': { from: 'member', act: 'comment and attach files' },
  'talk.moderate': { from: 'lead', act: 'remove what others attached' },
  'time.book': { from: 'member', act: 'book time' },
  'time.correct': { from: 'lead', act: 'take back what others booked' },
  'labels.colour': { from: 'member', act: 'colour labels' },
  'setup.change': { from: 'lead', act: 'change how the project is set up' },
  'routing.change': { from: 'lead', act: 'change routing and duty' },
  'views.save': { from: 'member', act: 'save views and pin charts' },
  'views.tidy': { from: 'lead', act: 'remove views of others' },
  'imports.run': { from: 'lead', act: 'import items' },
  'people.invite': { from: 'lead', act: 'invite people', holdsArchived: true },
  'people.make-admin': { from: 'admin', act: 'make administrators', holdsArchived: true },
  'tokens.manage': { from: 'lead', act: 'make and take back tokens', holdsArchived: true },
  'projects.make': { from: 'lead', act: 'make projects', holdsArchived: true },
  'projects.archive': { from: 'admin', act: 'archive a project and open it again', holdsArchived: true },
  'requirements.write': { from: 'lead', act: 'write requirements' },
  'tests.write': { from: 'member', act: 'write and do tests by hand' },
  'tests.sign': { from: 'lead', act: 'stand for a test plan' },
  'incidents.handle': { from: 'member', act: 'open and handle incidents' },
  'code.contribute': { from: 'member', act: 'open and merge pull requests' },
  'gates.set': { from: 'lead', act: 'say what has to hold before a merge' },
  'gates.pass-over': { from: 'lead', act: 'go past gates that do not hold' },
  'releases.deploy': { from: 'member', act: 'ask for deployments' },
  'releases.make': { from: 'lead', act: 'make releases' },
  'releases.approve': { from: 'lead', act: 'approve deployments' },
  'faults.sort': { from: 'member', act: 'merge and split faults' },
  'environments.set-up': { from: 'lead', act: 'set up environments' },
  'intake-rules.change': { from: 'lead', act: 'say which faults, failing tests and findings become items' },
  'faults.log': { from: 'member', act: 'log items for faults' },
  'webhooks.set-up': { from: 'admin', act: 'see the secret of webhooks' },
  'services.set-up': { from: 'lead', act: 'set services up' },
  'audit.read': { from: 'admin', act: 'read the audit trail', holdsArchived: true },
  'scrub.change': { from: 'lead', act: 'say what is taken out of what programs send' },
} as const satisfies Record<string, { from: Role; act: string; holdsArchived?: true }>
/** The name of a right. */
export type Permission = keyof typeof PERMISSIONS

/** Whether a role has a right; null, a stranger, has none. */
export function roleAllows(role: Role | null, permission: Permission): boolean {
  return role !== null && ROLES.indexOf(role) >= ROLES.indexOf(PERMISSIONS[permission].from)
}

/** Whether a right is left once a project is archived. */
export function holdsArchived(permission: Permission): boolean {
  return 'holdsArchived' in PERMISSIONS[permission]
}

/** The higher of two roles; null where neither is one. */
export function higherRole(a: Role | null, b: Role | null): Role | null {
  if (a === null || b === null) return a ?? b
  return ROLES.indexOf(a) >= ROLES.indexOf(b) ? a : b
}
