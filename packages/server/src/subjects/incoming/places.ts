import { lastPart, repositoryHints, type CdEvent } from '@dystracer/core/incoming/cd-event'
import type { Who } from '@dystracer/core/people/who'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { projectsOfRepository, projectsOfService, repositoryNamed } from '#subjects/records/index'
import { LIST_CONNECTED_REPOSITORIES, LIST_SERVICES } from './places.queries.js'

/** An event could not be placed: the thing that it is about is not set up here, or not for the sender's project. It is kept until it is. */
export class Unplaced extends Error {
  readonly thing: string

  constructor(thing: string) {
    super(`There is no ${thing} here.`)
    this.name = 'Unplaced'
    this.thing = thing
  }
}

/**
 * The connected repository that a message is about: by name, by address, or by the last part of a path that
 * it names (also where that is what the repository is called where it lies), in this order for each hint.
 * Throws `Unplaced`, in the same words whether there is none or it is another project's: a token learns nothing of what it may not touch.
 */
export function placeEvent(db: Db, who: Who | null, event: CdEvent): string {
  const connected = sql(db, LIST_CONNECTED_REPOSITORIES).all<{ name: string; url: string }>({})
  const hints = repositoryHints(event)
  for (const hint of hints) {
    const found =
      connected.find(({ name }) => name === hint) ??
      connected.find(({ url }) => soundAddress(url) === soundAddress(hint)) ??
      connected.find(({ name }) => name === repositoryNamed(db, lastPart(hint)))
    if (found && isOfProject(who, () => projectsOfRepository(db, found.name))) return found.name
  }
  throw new Unplaced(`repository ${hints[0] ?? 'that it names'}`)
}

/** The service that one of the names means, by itself or by the last part of a path. Throws `Unplaced` as `placeEvent` does. */
export function placeService(db: Db, who: Who | null, names: readonly (string | undefined)[]): { name: string; repository: string } {
  const services = sql(db, LIST_SERVICES).all<{ name: string; repository: string }>({})
  const said = names.filter((name): name is string => name !== undefined && name !== '')
  for (const name of said) {
    const found = services.find((service) => service.name === name) ?? services.find((service) => service.name === lastPart(name))
    if (found && isOfProject(who, () => projectsOfService(db, found.name))) return found
  }
  throw new Unplaced(`service ${said[0] ?? 'that it names'}`)
}

function isOfProject(who: Who | null, projects: () => readonly string[]): boolean {
  const project = who?.limits?.project ?? null
  return project === null || projects().includes(project)
}

/** Addresses that differ by scheme, a login, `.git` or a slash at the end are of one repository. */
function soundAddress(address: string): string {
  return address
    .replace(/^[a-z+]+:\/\/(?:[^@/]*@)?/i, '')
    .replace(/\/+$/, '')
    .replace(/\.git$/, '')
    .toLowerCase()
}
