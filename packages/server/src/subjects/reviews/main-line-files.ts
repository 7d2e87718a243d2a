import { ownersIn, parseOwners } from '@dystracer/core/reviews/owners'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { mainTip } from '#subjects/code/index'
import { textAt } from '#subjects/git/index'
import { projectsOfRepository } from '#subjects/records/index'
import { LIST_MEMBERS_OF_PROJECTS } from './reviewing.queries.js'

/** Where a repository says who looks after what; as its main line has it. */
export const OWNERS_PATH = '.dystracer/owners'

/** A file as the main line has it now; null where it is not there, or the repository cannot be read. */
export async function readMainLineFile(ctx: ServiceContext, repository: string, path: string): Promise<string | null> {
  const sha = mainTip(ctx.db, repository)
  return sha === null ? null : textAt(ctx, repository, sha, path)
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
