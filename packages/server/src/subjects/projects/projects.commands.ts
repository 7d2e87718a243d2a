import { makeProject } from '#subjects/people/index'
import { RESERVED_PREFIX } from '#subjects/people/index'
import { Problem } from '@dystracer/core/basics/problem'
import type { NewProject } from '@dystracer/core/projects/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import { logWithin } from '#subjects/items/index'
import { GET_URL_OF_REPOSITORY_BY_REPOSITORY, HAS_KEY_PREFIX_BY_PREFIX } from './projects.queries.js'

/**
 * Makes a project, and with it whatever of the first component, the first repository and the first item is named, in one write. Who makes it is its administrator. Throws `invalid-input` by field:
 * a prefix in use, a repository of that name with another address.
 */
export function createProject(
  ctx: ServiceContext,
  who: Who,
  input: NewProject,
): { prefix: string; firstItem: string | null; repository: string | null } {
  if (who.personId === null) throw new Problem('sign-in-required', { detail: 'A project belongs to people. Sign in to make one.' })
  const { personId, actor } = { personId: who.personId, actor: who.actor }
  const { prefix } = input
  if (prefix === RESERVED_PREFIX || sql(ctx.db, HAS_KEY_PREFIX_BY_PREFIX).get({ prefix }))
    throw new Problem('invalid-input', { fields: { prefix: `${prefix} is taken. Choose another one` } })
  const repository = input.repositoryUrl === null ? null : nameOfRepository(input.repositoryUrl)
  const known = sql(ctx.db, GET_URL_OF_REPOSITORY_BY_REPOSITORY).get<{ url: string }>({ repository })
  if (known && known.url !== input.repositoryUrl)
    throw new Problem('invalid-input', { fields: { repositoryUrl: `A repository called ${repository} is connected already, from another address` } })
  return ctx.journal.write((writer) => {
    const subjects = [`project:${prefix}`]
    makeProject(writer, actor, { name: input.name, prefix })
    writer.append({ kind: 'role-given', actor, subjects: [...subjects, `person:${personId}`], body: { project: prefix, personId, role: 'admin' } })
    if (repository !== null && !known) {
      writer.append({
        kind: 'repository-added',
        actor,
        subjects: [`repository:${repository}`],
        body: { name: repository, url: input.repositoryUrl ?? '', mainBranch: 'main' },
      })
      writer.append({ kind: 'service-added', actor, subjects, body: { name: repository, project: prefix, repository, tagPrefix: 'v' } })
    }
    if (input.component !== null)
      writer.append({
        kind: 'component-added',
        actor,
        subjects,
        body: { project: prefix, name: input.component, keeperId: personId, repository, pathPrefix: null },
      })
    const first =
      input.firstItem === null
        ? null
        : logWithin(
            ctx,
            writer,
            { ...who, roles: { ...who.roles, [prefix]: 'admin' } },
            {
              title: input.firstItem,
              type: 'task',
              project: prefix,
              component: input.component,
              ownerId: personId,
            },
          )
    return { prefix, firstItem: first?.key ?? null, repository }
  })
}
/** The name of a repository is the last part of its address. */
function nameOfRepository(url: string): string {
  const name = (/([^/:]+?)(?:\.git)?\/?$/.exec(url)?.[1] ?? '').toLowerCase()
  if (!/^[a-z0-9][a-z0-9._-]{0,60}$/.test(name) || name.includes('..'))
    throw new Problem('invalid-input', { fields: { repositoryUrl: 'The last part of the address is to be the name of the repository' } })
  return name
}
