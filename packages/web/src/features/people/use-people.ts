import type { Me } from '@dystracer/core/desk/wire'
import { holdsArchived, roleAllows, type Permission } from '@dystracer/core/people/permissions'
import { pastAt } from '#shared/lib/past'
import { useMeQuery } from './people.api'

/** Rights that change nothing. */
const READING: ReadonlySet<Permission> = new Set(['project.read', 'audit.read', 'items.read-confidential'])

const STRANGERS: Record<string, string> = {
  system: 'Dystracer',
  anonymous: 'a guest',
  'source:git': 'git',
  'source:mail': 'mail',
  'source:code-host': 'the code host',
  'source:build-service': 'the build service',
  'source:deployer': 'the deployer',
}

/** Names for the people, rules and services that the server names by id. */
export function usePeople(): {
  me: Me | undefined
  nameOf: (actor: string | null) => string
  initialsOf: (personId: string | null) => string
  /** Whether the reader has a right in the project that they work in; of a thing of another project at least whether that is archived. */
  may: (permission: Permission, project?: string) => boolean
  /** Whether a project is archived: it is read, and changed no more. */
  isArchivedProject: (project: string | undefined) => boolean
} {
  const { data: me } = useMeQuery()
  const isArchivedProject = (prefix: string | undefined) =>
    me?.projects.some((project) => project.prefix === prefix && project.isArchived) === true
  const person = (id: string) => me?.people.find((entry) => entry.personId === id)
  return {
    me,
    nameOf: (actor) => {
      if (actor === null) return 'nobody'
      const colon = actor.indexOf(':')
      const id = colon < 0 ? actor : actor.slice(colon + 1)
      if (STRANGERS[actor]) return STRANGERS[actor]
      if (actor.startsWith('rule:')) return `rule “${id.replaceAll('-', ' ')}”`
      return person(id)?.name ?? id
    },
    initialsOf: (personId) => (personId ? (person(personId)?.initials ?? '?') : '–'),
    may: (permission, project = me?.project.prefix) =>
      // Nothing is changed in the past, whoever looks at it; what is only read there needs no more than to be let in.
      (pastAt === null || READING.has(permission)) &&
      roleAllows(me?.person?.role ?? null, permission) &&
      (!isArchivedProject(project) || holdsArchived(permission)),
    isArchivedProject,
  }
}
