import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { entryByIdempotencyKey } from '#platform/journal/journal.queries'
import { archivedProjects } from '#subjects/people/index'
import { nextItemKey } from '#subjects/records/index'
import { routeNewItem } from '#subjects/routing/index'
import { GET_NAME_OF_COMPONENT_BY_REPOSITORY_AND_PROJECT, GET_PROJECT_OF_SERVICE_BY_REPOSITORY } from './quality-items.queries.js'

/** An item for something that a machine found. */
export interface FoundItem {
  /** One item for each: the same thing reported again changes nothing. */
  idempotencyKey: string
  project: string
  component: string | null
  title: string
  description: string
  cause: 'test' | 'finding' | 'incident'
  source: string
  paths: string[]
  /** Who logs it, and why, where a rule does. */
  by?: { actor: `rule:${string}`; cause: string }
  type?: string
  severity?: 1 | 2 | 3 | 4 | 5 | null
  labels?: readonly string[]
  milestone?: string | null
}

const FOUND_BY: Record<FoundItem['cause'], string> = { test: 'a failing test', finding: 'a finding', incident: 'an incident' }

/** The item that was logged for something already; null where none was. */
export function foundBefore(ctx: Pick<ServiceContext, 'db'>, idempotencyKey: string): string | null {
  const before = entryByIdempotencyKey(ctx.db, idempotencyKey)
  return before ? (before.body as { key: string }).key : null
}

/** Logs what a machine found, once; it waits in Triage. Gives its key, also where it was logged before. */
export function logFound(ctx: ServiceContext, writer: JournalWriter, found: FoundItem): string {
  const before = foundBefore(ctx, found.idempotencyKey)
  if (before !== null) return before
  const item = nextItemKey(ctx, found.project)
  writer.append({
    kind: 'item-logged',
    actor: found.by?.actor ?? 'system',
    subjects: [`item:${item.key}`],
    cause: found.by?.cause ?? FOUND_BY[found.cause],
    source: found.source,
    idempotencyKey: found.idempotencyKey,
    body: {
      ...item,
      project: found.project,
      type: found.type ?? 'defect',
      title: found.title.slice(0, 200),
      description: found.description,
      severity: found.severity ?? null,
      component: found.component,
      milestone: found.milestone ?? null,
      labels: [...(found.labels ?? [])],
      foundIn: null,
      cause: found.cause,
      reporterId: null,
      fault: null,
    },
  })
  routeNewItem(ctx, writer, item.key, found.paths)
  return item.key
}

/**
 * Where items of a repository go: the project of its service, the component that it belongs to;
 * null where no project is worked in for it.
 */
export function placeOf(ctx: ServiceContext, repository: string): { project: string; component: string | null } | null {
  const project = sql(ctx.db, GET_PROJECT_OF_SERVICE_BY_REPOSITORY).get<{ project: string }>({
    repository,
  })?.project
  if (project === undefined || archivedProjects(ctx.db).includes(project)) return null
  const component = sql(ctx.db, GET_NAME_OF_COMPONENT_BY_REPOSITORY_AND_PROJECT).get<{ name: string }>({ repository, project })?.name
  return { project, component: component ?? null }
}
