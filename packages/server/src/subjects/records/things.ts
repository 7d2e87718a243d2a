import { mayAnywhere, mayIn } from '@dystracer/core/people/standing'
import type { Who } from '@dystracer/core/people/who'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import {
  LIST_FAULT_BY_NUMBER,
  LIST_KEY_PREFIX,
  LIST_KEY_PREFIX_BY_PREFIX,
  LIST_REPOSITORY_NAMES,
  LIST_SERVICE,
  LIST_SERVICE_BY_REPOSITORY,
  LIST_SERVICE_BY_SERVICE,
  LIST_SERVICE_FOR_HIDDEN_SERVICES,
} from './things.queries.js'

/**
 * The projects that a thing belongs to, by the tables that say so: a repository to those with a service or component in it, a service to
 * its own, a
 * requirement by its prefix, a fault by its service. An empty list means that no project has claimed it: whoever may read anything may read
 * it.
 */
export function projectsOfThing(db: Db, { kind, id }: { kind: string; id: string }): string[] {
  switch (kind) {
    case 'project':
      return [id]
    case 'repository':
      return projectsOfRepository(db, id)
    case 'commit':
    case 'branch':
    case 'pull-request':
    case 'build':
    case 'test':
      return projectsOfRepository(db, id.split('/', 1)[0] ?? '')
    case 'service':
      return projectsOfService(db, id)
    case 'release':
      return projectsOfService(db, id.slice(0, id.lastIndexOf('@')))
    case 'requirement':
      return projectOfRequirement(db, id)
    case 'fault':
      return projectsOfFault(db, Number(id.replace(/^F-/, '')))
    default:
      return []
  }
}

export function projectsOfRepository(db: Db, repository: string): string[] {
  return list(sql(db, LIST_SERVICE_BY_REPOSITORY).all<{ project: string }>({ repository }))
}

/**
 * The repository that a name means: of that name here, or the only connected one whose address ends in it now, as one that was renamed
 * where it lies does. The name itself where there is neither.
 */
export function repositoryNamed(db: Db, name: string): string {
  const rows = sql(db, LIST_REPOSITORY_NAMES).all<{ name: string; url: string; isConnected: 0 | 1 }>({})
  if (rows.some((row) => row.name === name)) return name
  const wanted = name.toLowerCase()
  const found = rows.filter((row) => row.isConnected === 1 && lastPartOf(row.url) === wanted)
  return found.length === 1 && found[0] ? found[0].name : name
}

/** What a repository is called where it lies: the last part of its address. */
export function lastPartOf(url: string): string {
  return (/([^/:]+?)(?:\.git)?\/?$/.exec(url)?.[1] ?? '').toLowerCase()
}

export function projectsOfService(db: Db, service: string): string[] {
  return list(sql(db, LIST_SERVICE_BY_SERVICE).all<{ project: string }>({ service }))
}

function projectOfRequirement(db: Db, key: string): string[] {
  const prefix = key.slice(0, key.lastIndexOf('-'))
  return list(sql(db, LIST_KEY_PREFIX_BY_PREFIX).all<{ project: string }>({ prefix }))
}

function projectsOfFault(db: Db, number: number): string[] {
  if (!Number.isSafeInteger(number)) return []
  return list(
    sql(db, LIST_FAULT_BY_NUMBER).all<{ project: string }>({
      number,
    }),
  )
}

function list(rows: readonly { project: string }[]): string[] {
  return rows.map((row) => row.project)
}

/** Whether somebody may read a thing: in one of its projects, or anywhere when no project has claimed it. */
export function mayReadThing(db: Db, who: Who, thing: { kind: string; id: string }): boolean {
  const projects = projectsOfThing(db, thing)
  return projects.length === 0 ? mayAnywhere(who, 'project.read') : projects.some((project) => mayIn(who, 'project.read', project))
}

/** Repositories that belong to projects of which the asker reads none, as a JSON list to leave out of a statement. */
export function hiddenRepositories(db: Db, who: Who): string {
  return hidden(who, sql(db, LIST_SERVICE).all<{ name: string; project: string }>({}))
}

/** The same of services; of requirements' prefixes see `hiddenPrefixes`. */
export function hiddenServices(db: Db, who: Who): string {
  return hidden(who, sql(db, LIST_SERVICE_FOR_HIDDEN_SERVICES).all<{ name: string; project: string }>({}))
}

/** Prefixes of requirements of projects that the asker does not read. */
export function hiddenPrefixes(db: Db, who: Who): string {
  return hidden(who, sql(db, LIST_KEY_PREFIX).all<{ name: string; project: string }>({}))
}

function hidden(who: Who, rows: readonly { name: string; project: string }[]): string {
  const shown = new Set(rows.filter((row) => mayIn(who, 'project.read', row.project)).map((row) => row.name))
  return JSON.stringify([...new Set(rows.map((row) => row.name))].filter((name) => !shown.has(name)))
}
