import { knowersOf } from '@dystracer/core/files/knowers'
import { ownersIn, parseOwners, proposeReviewers, type ReviewerFacts } from '@dystracer/core/reviews/owners'
import type { ReviewerRow } from '@dystracer/core/reviews/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { commitsOfPullRequest, findPullRequest, getCommit, mainTip, pathsOf, type PullRequestRow } from '#subjects/code/index'
import { gitWorker, isGitTrouble, mirrorDir } from '#subjects/git/index'
import { projectsOfRepository } from '#subjects/records/index'
import { LIST_MEMBERS_OF_PROJECTS, LIST_REVIEW_ASKS, LIST_WAITING_REVIEWS, LIST_WORK_ON_PATHS } from './reviewing.queries.js'
import { authorsOf, idOf } from './reviewing.views.js'

/** Where a repository says who looks after what; as its main line has it. */
export const OWNERS_PATH = '.dystracer/owners'
const PATHS_MAX = 200

interface Member {
  personId: string
  name: string
  email: string
}

/**
 * Who to ask to look at a change, best first: by the owners file of the main line, by who worked on its files, and by how much waits for
 * each. Nobody who wrote part of it, or is asked already.
 */
export async function listReviewerProposals(ctx: ServiceContext, who: Who, id: string): Promise<ReviewerRow[]> {
  const row = findPullRequest(ctx, who, id)
  const paths = pathsOfPullRequest(ctx, row)
  const members = sql(ctx.db, LIST_MEMBERS_OF_PROJECTS).all<Member>({
    projects: JSON.stringify(projectsOfRepository(ctx.db, row.repository)),
  })
  const out = new Set([
    ...authorsOf(ctx, row),
    ...sql(ctx.db, LIST_REVIEW_ASKS)
      .all<{ personId: string }>(idOf(row))
      .map((ask) => ask.personId),
  ])
  const owned = await ownedBy(ctx, row.repository, paths)
  const work = sql(ctx.db, LIST_WORK_ON_PATHS).all<{ author: string; atMs: number }>({
    repository: row.repository,
    paths: JSON.stringify(paths),
  })
  const known = new Map(knowersOf(work, new Map(), { nowMs: ctx.nowMs(), limit: 100 }).map((each) => [each.author.toLowerCase(), each]))
  const waiting = new Map(
    sql(ctx.db, LIST_WAITING_REVIEWS)
      .all<{ personId: string; count: number }>({})
      .map(({ personId, count }) => [personId, count]),
  )
  const facts = members
    .filter(({ personId }) => !out.has(personId))
    .map((member): ReviewerFacts => {
      const knows = known.get(member.email.toLowerCase())
      return {
        personId: member.personId,
        owned: owned(member),
        knows01: knows?.share01 ?? 0,
        commits: knows?.commits ?? 0,
        waiting: waiting.get(member.personId) ?? 0,
      }
    })
  return proposeReviewers(facts, { paths: paths.length }).map(({ personId, owned, commits, waiting }) => ({
    personId,
    owned: owned.slice(0, 20),
    commits,
    waiting,
  }))
}

function pathsOfPullRequest(ctx: ServiceContext, row: PullRequestRow): string[] {
  const paths = commitsOfPullRequest(ctx, row).flatMap((sha) => pathsOf(getCommit(ctx.db, row.repository, sha)?.files ?? '[]'))
  return [...new Set(paths)].slice(0, PATHS_MAX)
}

/** The paths that are somebody's by the owners file: named there by id, name or address. */
async function ownedBy(ctx: ServiceContext, repository: string, paths: readonly string[]): Promise<(member: Member) => string[]> {
  const sha = mainTip(ctx.db, repository)
  if (sha === null) return () => []
  try {
    const file = await gitWorker(ctx).call('readFile', { dir: mirrorDir(ctx, repository), sha, path: OWNERS_PATH })
    const ownersOf = ownersIn(parseOwners(file?.text ?? ''))
    const named = new Map(paths.map((path) => [path, ownersOf(path).map((owner) => owner.replace(/^@/, '').toLowerCase())]))
    return ({ personId, name, email }) =>
      paths.filter((path) => [personId, name, email].some((known) => named.get(path)?.includes(known.toLowerCase())))
  } catch (error) {
    if (error instanceof Error && isGitTrouble(error)) return () => []
    throw error
  }
}
