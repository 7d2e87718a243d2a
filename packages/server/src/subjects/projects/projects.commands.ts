import type { JournalWriter } from '#platform/journal/journal'
import type { Actor } from '@dystracer/core/contract/events'
import { realpathSync } from 'node:fs'
import { isAbsolute, relative } from 'node:path'
import { gitWorker, isGitTrouble } from '#subjects/code/index'
import { makeProject, RESERVED_PREFIX } from '#subjects/people/index'
import { Problem } from '@dystracer/core/basics/problem'
import type { ConnectRepository, NewProject } from '@dystracer/core/projects/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import { logWithin } from '#subjects/items/index'
import { GET_URL_OF_REPOSITORY_BY_REPOSITORY, HAS_KEY_PREFIX_BY_PREFIX, GET_REPOSITORY, HAS_SERVICE_BY_NAME } from './projects.queries.js'

/**
 * Makes a project, and with it whatever of the first component, the first repository and the first item is named, in one write. Who makes
 * it is its administrator. Throws `invalid-input` by field:
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
  const url = input.repositoryUrl === null ? '' : gitAddress(ctx, input.repositoryUrl, 'repositoryUrl')
  const known = sql(ctx.db, GET_URL_OF_REPOSITORY_BY_REPOSITORY).get<{ url: string }>({ repository })
  if (known && known.url !== url)
    throw new Problem('invalid-input', {
      fields: { repositoryUrl: `A repository called ${repository} is connected already, from another address` },
    })
  return ctx.journal.write((writer) => {
    const subjects = [`project:${prefix}`]
    makeProject(writer, actor, { name: input.name, prefix })
    writer.append({
      kind: 'role-given',
      actor,
      subjects: [...subjects, `person:${personId}`],
      body: { project: prefix, personId, role: 'admin' },
    })
    if (repository !== null && !known) {
      addRepository(writer, actor, { project: prefix, repository, url, mainBranch: 'main' })
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
/**
 * Connects a repository to a project, with a service of the same name that is built from all of it. The remote is asked for its main line
 * first, so that a wrong address is told before anything is written. Throws `invalid-input` for an
 * address that may not be used or a name that is taken, `outside-unreachable` with git's own words where nobody answers.
 */
export async function connectRepository(
  ctx: ServiceContext,
  who: Who,
  project: string,
  input: ConnectRepository,
): Promise<{ repository: string; mainBranch: string; isEmpty: boolean }> {
  const repository = nameOfRepository(input.url, 'url')
  const url = gitAddress(ctx, input.url, 'url')
  refuseTaken(ctx, repository)
  const found = await mainLineOf(ctx, url)
  // Somebody else may have connected it while the remote was asked.
  refuseTaken(ctx, repository)
  const mainBranch = found ?? 'main'
  ctx.journal.write((writer) => addRepository(writer, who.actor, { project, repository, url, mainBranch }))
  return { repository, mainBranch, isEmpty: found === null }
}

/**
 * Changes where a repository lies, after the new address was asked for its main line, or whether it is read. What was read of it stays,
 * links and all. Throws `not-found`, `invalid-input`, `outside-unreachable`.
 */
export async function changeRepository(
  ctx: ServiceContext,
  who: Who,
  repository: string,
  input: { url?: string | undefined; isConnected?: boolean | undefined },
): Promise<{ repository: string; mainBranch: string; isConnected: boolean }> {
  const row = sql(ctx.db, GET_REPOSITORY).get<{ url: string; mainBranch: string; disconnected_at_ms: number | null }>({ repository })
  if (!row) throw new Problem('not-found', { detail: `There is no repository ${repository}.` })
  const url = input.url === undefined ? row.url : gitAddress(ctx, input.url, 'url')
  const mainBranch = url === row.url ? row.mainBranch : ((await mainLineOf(ctx, url)) ?? row.mainBranch)
  const wasConnected = row.disconnected_at_ms === null
  const isConnected = input.isConnected ?? (input.url !== undefined || wasConnected)
  const subjects = [`repository:${repository}`]
  ctx.journal.write((writer) => {
    if (url !== row.url || (isConnected && !wasConnected))
      writer.append({ kind: 'repository-added', actor: who.actor, subjects, body: { name: repository, url, mainBranch } })
    if (!isConnected && (wasConnected || url !== row.url))
      writer.append({ kind: 'repository-disconnected', actor: who.actor, subjects, body: { name: repository } })
  })
  return { repository, mainBranch, isConnected }
}

function refuseTaken({ db }: ServiceContext, repository: string): void {
  if (sql(db, GET_URL_OF_REPOSITORY_BY_REPOSITORY).get({ repository }) || sql(db, HAS_SERVICE_BY_NAME).get({ name: repository }))
    throw new Problem('invalid-input', { fields: { url: `A repository or service called ${repository} is connected already` } })
}
/** A repository and the service that is built from all of it, in a project. */
function addRepository(
  writer: JournalWriter,
  actor: Actor,
  { project, repository, url, mainBranch }: { project: string; repository: string; url: string; mainBranch: string },
): void {
  writer.append({ kind: 'repository-added', actor, subjects: [`repository:${repository}`], body: { name: repository, url, mainBranch } })
  writer.append({
    kind: 'service-added',
    actor,
    subjects: [`project:${project}`],
    body: { name: repository, project, repository, tagPrefix: 'v' },
  })
}
async function mainLineOf(ctx: ServiceContext, url: string): Promise<string | null> {
  try {
    return await gitWorker(ctx).call('mainLine', { url }, { deadlineMs: 30_000 })
  } catch (error) {
    if (error instanceof Error && isGitTrouble(error))
      throw new Problem('outside-unreachable', { detail: `git could not read it: ${error.message}. Nothing was connected.`, cause: error })
    throw error
  }
}
/** The address as git takes it. A path must lie in the folder that the operator allows, also once its links are followed. */
function gitAddress(ctx: ServiceContext, address: string, field: string): string {
  if (!address.startsWith('/')) return address
  const allowed = ctx.config.repositoriesDir
  const refusal = (words: string) => new Problem('invalid-input', { fields: { [field]: words } })
  if (allowed === null)
    throw refusal('Paths are not allowed here; whoever runs the server can set DYSTRACER_REPOSITORIES to the folder of the repositories')
  try {
    const inside = relative(realpathSync(allowed), realpathSync(address))
    if (inside === '' || inside.startsWith('..') || isAbsolute(inside)) throw refusal(`The path must lie in ${allowed}`)
    return `file://${realpathSync(address)}`
  } catch (error) {
    if (error instanceof Problem) throw error
    throw refusal('There is nothing at this path on the server')
  }
}
/** The name of a repository is the last part of its address. */
function nameOfRepository(url: string, field = 'repositoryUrl'): string {
  const name = (/([^/:]+?)(?:\.git)?\/?$/.exec(url)?.[1] ?? '').toLowerCase()
  if (!/^[a-z0-9][a-z0-9._-]{0,60}$/.test(name) || name.includes('..'))
    throw new Problem('invalid-input', { fields: { [field]: 'The last part of the address is to be the name of the repository' } })
  return name
}
