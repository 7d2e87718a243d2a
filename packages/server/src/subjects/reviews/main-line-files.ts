import { LRUCache } from 'lru-cache'
import { ownersIn, parseOwners } from '@dystracer/core/reviews/owners'
import { slot, type ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { mainTip } from '#subjects/code/index'
import { gitWorker, isGitTrouble, mirrorDir } from '#subjects/git/index'
import { projectsOfRepository } from '#subjects/records/index'
import { LIST_MEMBERS_OF_PROJECTS } from './reviewing.queries.js'

/** Where a repository says who looks after what; as its main line has it. */
export const OWNERS_PATH = '.dystracer/owners'

/** Files of main lines by repository, commit and path; an empty text for one that is not there. */
const FILES = slot('files of main lines', () => new LRUCache<string, { text: string | null }>({ max: 500 }))

/** A file as the main line has it now; null where it is not there, or the repository cannot be read. */
export async function readMainLineFile(ctx: ServiceContext, repository: string, path: string): Promise<string | null> {
  const sha = mainTip(ctx.db, repository)
  if (sha === null) return null
  const key = `${repository}\0${sha}\0${path}`
  const known = ctx.use(FILES).get(key)
  if (known) return known.text
  try {
    const file = await gitWorker(ctx).call('readFile', { dir: mirrorDir(ctx, repository), sha, path })
    ctx.use(FILES).set(key, { text: file?.text ?? null })
    return file?.text ?? null
  } catch (error) {
    if (error instanceof Error && isGitTrouble(error)) return null
    throw error
  }
}

/** A member of a project that uses a repository, as files name them. */
export interface Member {
  personId: string
  name: string
  email: string
}

/** The members of the projects that use a repository. */
export function membersOf(ctx: ServiceContext, repository: string): Member[] {
  return sql(ctx.db, LIST_MEMBERS_OF_PROJECTS).all<Member>({ projects: JSON.stringify(projectsOfRepository(ctx.db, repository)) })
}

/** Who looks after paths by the owners file of the main line, as ids of members; a name that is nobody's counts for nobody. */
export async function ownersOf(ctx: ServiceContext, repository: string, members: readonly Member[]): Promise<(path: string) => string[]> {
  const namesOf = ownersIn(parseOwners((await readMainLineFile(ctx, repository, OWNERS_PATH)) ?? ''))
  const idByName = new Map(
    members.flatMap(({ personId, name, email }) => [personId, name, email].map((known) => [known.toLowerCase(), personId])),
  )
  return (path) => [...new Set(namesOf(path).flatMap((name) => idByName.get(name.replace(/^@/, '').toLowerCase()) ?? []))]
}
