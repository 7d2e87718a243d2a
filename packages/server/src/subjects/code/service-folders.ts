import { sql } from '#platform/db/statements'
import type { ServiceContext } from '#platform/context'
import { LIST_GIT_COMMIT_BY_REPOSITORY_AND_PATCH_IDS, LIST_SERVICE_BY_REPOSITORY } from './code.queries.js'

/**
 * The services of a repository that changes count for (docs/rules.md#service): all of it where none is built from a folder; else those
 * whose folder the changes touch, and those that are built from the whole
 * repository. Changes outside of every folder, as of shared code, count for all.
 */
export function servicesTouched(ctx: Pick<ServiceContext, 'db'>, repository: string, patchIds: readonly string[]): ReadonlySet<string> {
  const services = sql(ctx.db, LIST_SERVICE_BY_REPOSITORY).all<{
    name: string
    folder: string
  }>({ repository })
  const all = new Set(services.map((service) => service.name))
  if (services.every((service) => service.folder === '')) return all
  const files = sql(ctx.db, LIST_GIT_COMMIT_BY_REPOSITORY_AND_PATCH_IDS)
    .all<{ files: string }>({ repository, patchIds: JSON.stringify(patchIds) })
    .flatMap((row) => (JSON.parse(row.files) as { path: string }[]).map((file) => file.path))
  const isIn = (folder: string) => files.some((path) => path.startsWith(`${folder}/`))
  const isShared = files.some((path) => !services.some(({ folder }) => folder !== '' && path.startsWith(`${folder}/`)))
  if (isShared || files.length === 0) return all
  return new Set(services.filter(({ folder }) => folder === '' || isIn(folder)).map((service) => service.name))
}
