import type { JournalWriter } from '#platform/journal/journal'
import type { Actor } from '@dystracer/core/contract/events'
import { realpathSync } from 'node:fs'
import { isAbsolute, relative } from 'node:path'
import { accessOf, giveAccess, openAccess } from '#subjects/code/index'
import { fetchUrl, type GitAccess, gitWorker, isGitTrouble } from '#subjects/git/index'
import { itemsOfRepository, lastPartOf, projectsOfRepository } from '#subjects/records/index'
import { archivedProjects, isPerson, makeProject, personByAddress, RESERVED_PREFIX } from '#subjects/people/index'
import { Problem } from '@dystracer/core/basics/problem'
import type { ChangeRepository, ConnectRepository, NewProject } from '@dystracer/core/projects/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import { logWithin } from '#subjects/items/index'
import {
  GET_URL_OF_REPOSITORY_BY_REPOSITORY,
  HAS_BRANCH,
  HAS_KEY_PREFIX_BY_PREFIX,
  GET_REPOSITORY,
  HAS_SERVICE_BY_NAME,
} from './projects.queries.js'

/**
 * Makes a project, and with it whatever of the first component, the first repository and the first item is named, in one write. Who makes
 * it is its administrator, or whoever is named. Throws `invalid-input` by field:
 * a prefix in use, a repository of that name with another address.
 */
export function createProject(
  ctx: ServiceContext,
  who: Who,
  input: NewProject,
): { prefix: string; firstItem: string | null; repository: string | null } {
  const { actor } = who
  // A token is held to the project that it was made for; a new one is none of that.
  if (who.limits?.project)
    throw new Problem('not-allowed', { detail: `This token is for the project ${who.limits.project}; make one for all of them.` })
  const personId = administratorOf(ctx, who, input.administrator)
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
/** Who administers a new project: whoever is named, else the person who makes it. A program cannot, so it has to name somebody. */
function administratorOf(ctx: ServiceContext, who: Who, named: string | undefined): string {
  if (named === undefined && who.personId !== null) return who.personId
  const personId = named === undefined ? null : isPerson(ctx.db, named) ? named : (personByAddress(ctx.db, named)?.personId ?? null)
  if (personId !== null) return personId
  throw new Problem('invalid-input', {
    fields: {
      administrator:
        named === undefined ? 'A project belongs to people: name who administers it, by id or address' : `There is no account of ${named}`,
    },
  })
}

/**
 * Archives a project: all of it can be read, nothing in it changes, and nothing is logged in it by rules, builds, mail or the public form.
 * What is sent of its code and programs is kept as before. Or opens it again.
 */
export function archiveProject(ctx: ServiceContext, who: Who, project: string, isArchived: boolean): void {
  if (archivedProjects(ctx.db).includes(project) === isArchived) return
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'setting-changed',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { project, name: 'archived', value: isArchived ? 'yes' : '' },
    })
  })
}

/**
 * Connects a repository to a project, with a service of the same name that is built from all of it. The remote is asked for its main line
 * first, so that a wrong address or login is told before anything is written. A repository that another project uses already is shared: it
 * is read once, and the project gets a service of its own from it. Throws `invalid-input` for an
 * address that may not be used or a name that is taken, `outside-unreachable` with git's own words where nobody answers.
 */
export async function connectRepository(
  ctx: ServiceContext,
  who: Who,
  project: string,
  input: ConnectRepository,
): Promise<{ repository: string; service: string; mainBranch: string; isEmpty: boolean }> {
  const repository = nameOfRepository(input.url, 'url')
  const url = gitAddress(ctx, input.url, 'url')
  const opened = openAccess(ctx, who.actor, input.access)
  requireFree(ctx, { repository, url, project })
  // Also where it is read already: whoever shares it shows that they may read it.
  const found = await mainLineOf(ctx, { url, access: opened.access })
  // Somebody else may have connected it while the remote was asked.
  const service = requireFree(ctx, { repository, url, project })
  const known = sql(ctx.db, GET_REPOSITORY).get<{ mainBranch: string }>({ repository })
  const mainBranch = known?.mainBranch ?? found ?? 'main'
  ctx.journal.write((writer) => {
    if (known) addService(writer, who.actor, { project, repository, service })
    else {
      addRepository(writer, who.actor, { project, repository, url, mainBranch })
      giveAccess(ctx, repository, opened)
    }
  })
  return { repository, service, mainBranch, isEmpty: found === null }
}

/**
 * Changes where a repository lies or what proves that it may be read, after the remote was asked for its main line, or whether it is read.
 * What was read of it stays, links and all. Throws `not-found`, `invalid-input`, `outside-unreachable`.
 */
export async function changeRepository(
  ctx: ServiceContext,
  who: Who,
  repository: string,
  input: ChangeRepository,
): Promise<{ repository: string; mainBranch: string; longLines: string[]; isConnected: boolean; calledThere: string }> {
  const row = sql(ctx.db, GET_REPOSITORY).get<{
    url: string
    mainBranch: string
    longLines: string
    disconnected_at_ms: number | null
  }>({ repository })
  if (!row) throw new Problem('not-found', { detail: `There is no repository ${repository}.` })
  const url = input.url === undefined ? row.url : gitAddress(ctx, input.url, 'url')
  const opened = input.access === undefined ? null : openAccess(ctx, who.actor, input.access)
  const isAsked = url !== row.url || opened !== null
  const access = opened === null ? accessOf(ctx, repository) : opened.access
  const asked = isAsked ? await mainLineOf(ctx, { url: fetchUrl(ctx, url), access }) : null
  const lines = linesOf(ctx, repository, { ...input, before: { ...row, longLines: JSON.parse(row.longLines) as string[] } })
  // What somebody chose stays, also where it lies elsewhere now, as long as the branch is there.
  const mainBranch = input.mainBranch ?? (url === row.url ? row.mainBranch : (asked ?? row.mainBranch))
  const wasConnected = row.disconnected_at_ms === null
  const isConnected = input.isConnected ?? (isAsked || wasConnected)
  const subjects = [`repository:${repository}`]
  ctx.journal.write((writer) => {
    if (opened !== null) giveAccess(ctx, repository, opened)
    if (url !== row.url || (isConnected && !wasConnected))
      writer.append({ kind: 'repository-added', actor: who.actor, subjects, body: { name: repository, url, mainBranch } })
    if (lines !== null) {
      writer.append({ kind: 'main-lines-chosen', actor: who.actor, subjects, body: { name: repository, ...lines } })
      // Whether a fix is merged is asked of these lines.
      writer.touch(itemsOfRepository(ctx, repository))
    }
    if (!isConnected && (wasConnected || url !== row.url))
      writer.append({ kind: 'repository-disconnected', actor: who.actor, subjects, body: { name: repository } })
  })
  return {
    repository,
    mainBranch,
    longLines: lines?.longLines ?? (JSON.parse(row.longLines) as string[]),
    isConnected,
    calledThere: lastPartOf(url),
  }
}

/**
 * The lines that count as main from now on; null where nothing is said of them, or nothing changes. Throws `invalid-input` by field for a
 * branch that the repository does not have.
 */
function linesOf(
  ctx: ServiceContext,
  repository: string,
  input: ChangeRepository & { before: { mainBranch: string; longLines: string[] } },
): { mainBranch: string; longLines: string[] } | null {
  const { before, mainBranch = before.mainBranch } = input
  const longLines = [...new Set(input.longLines ?? before.longLines)].filter((branch) => branch !== mainBranch).sort()
  if (mainBranch === before.mainBranch && longLines.join('\n') === before.longLines.join('\n')) return null
  const isThere = (branch: string) => sql(ctx.db, HAS_BRANCH).get({ repository, ref: `refs/heads/${branch}` }) !== undefined
  const refuse = (field: string, branch: string) =>
    new Problem('invalid-input', { fields: { [field]: `${repository} has no branch ${branch}: push it first, or choose another` } })
  if (input.mainBranch !== undefined && !isThere(mainBranch)) throw refuse('mainBranch', mainBranch)
  const missing = (input.longLines ?? []).find((branch) => !isThere(branch))
  if (missing !== undefined) throw refuse('longLines', missing)
  return { mainBranch, longLines }
}

/**
 * The name of the service that the project would get from a repository: its own, or with the project's prefix where another project has
 * that. Throws `invalid-input` where the name is another repository's, or the project has it already.
 */
function requireFree({ db }: ServiceContext, { repository, url, project }: { repository: string; url: string; project: string }): string {
  const known = sql(db, GET_URL_OF_REPOSITORY_BY_REPOSITORY).get<{ url: string }>({ repository })
  const refusal = (words: string) => new Problem('invalid-input', { fields: { url: words } })
  if (known && known.url !== url) throw refusal(`A repository called ${repository} is connected already, from another address`)
  if (known && projectsOfRepository(db, repository).includes(project)) throw refusal(`${repository} is connected to this project already`)
  const service = known ? `${project.toLowerCase()}-${repository}` : repository
  if (sql(db, HAS_SERVICE_BY_NAME).get({ name: service })) throw refusal(`A service called ${service} is there already`)
  return service
}
/** A repository and the service that is built from all of it, in a project. */
function addRepository(
  writer: JournalWriter,
  actor: Actor,
  { project, repository, url, mainBranch }: { project: string; repository: string; url: string; mainBranch: string },
): void {
  writer.append({ kind: 'repository-added', actor, subjects: [`repository:${repository}`], body: { name: repository, url, mainBranch } })
  addService(writer, actor, { project, repository, service: repository })
}

function addService(
  writer: JournalWriter,
  actor: Actor,
  { project, repository, service }: { project: string; repository: string; service: string },
): void {
  const body = { name: service, project, repository, tagPrefix: 'v' }
  writer.append({ kind: 'service-added', actor, subjects: [`project:${project}`], body })
}

async function mainLineOf(ctx: ServiceContext, remote: { url: string; access: GitAccess | null }): Promise<string | null> {
  try {
    return await gitWorker(ctx).call('mainLine', remote, { deadlineMs: 30_000 })
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
  const name = lastPartOf(url)
  if (!/^[a-z0-9][a-z0-9._-]{0,60}$/.test(name) || name.includes('..'))
    throw new Problem('invalid-input', { fields: { [field]: 'The last part of the address is to be the name of the repository' } })
  return name
}
