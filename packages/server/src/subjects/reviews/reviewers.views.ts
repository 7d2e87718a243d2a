import { knowersOf } from '@dystracer/core/files/knowers'
import { proposeReviewers, type ReviewerFacts } from '@dystracer/core/reviews/owners'
import type { ReviewerRow } from '@dystracer/core/reviews/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { findPullRequest } from '#subjects/code/index'
import { authorsOf, idOf, pathsOfPullRequest } from './change-facts.js'
import { membersOf, ownersOf } from './main-line-files.js'
import { LIST_REVIEW_ASKS, LIST_WAITING_REVIEWS, LIST_WORK_ON_PATHS } from './reviewing.queries.js'

/**
 * Who to ask to look at a change, best first: by the owners file of the main line, by who worked on its files, and by how much waits for
 * each. Nobody who wrote part of it, or is asked already.
 */
export async function listReviewerProposals(ctx: ServiceContext, who: Who, id: string): Promise<ReviewerRow[]> {
  const row = findPullRequest(ctx, who, id)
  const paths = pathsOfPullRequest(ctx, row)
  const members = membersOf(ctx, row.repository)
  const out = new Set([
    ...authorsOf(ctx, row),
    ...sql(ctx.db, LIST_REVIEW_ASKS)
      .all<{ personId: string }>(idOf(row))
      .map((ask) => ask.personId),
  ])
  const owners = await ownersOf(ctx, row.repository, members)
  const work = sql(ctx.db, LIST_WORK_ON_PATHS).all<{ author: string; atMs: number }>({
    repository: row.repository,
    paths: JSON.stringify(paths),
  })
  const known = new Map(knowersOf(work, new Map(), { nowMs: ctx.nowMs(), limit: 100 }).map((each) => [each.author, each]))
  const waiting = new Map(
    sql(ctx.db, LIST_WAITING_REVIEWS)
      .all<{ personId: string; count: number }>({})
      .map(({ personId, count }) => [personId, count]),
  )
  const facts = members
    .filter(({ personId }) => !out.has(personId))
    .map((member): ReviewerFacts => {
      const knows = known.get(member.personId)
      return {
        personId: member.personId,
        owned: paths.filter((path) => owners(path).includes(member.personId)),
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
