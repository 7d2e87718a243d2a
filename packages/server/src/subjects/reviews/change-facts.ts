import { groupBy } from '@dystracer/core/basics/group-by'
import type { Reactions } from '@dystracer/core/talk/wire'
import { standingVerdicts, type GivenVerdict } from '@dystracer/core/reviews/verdicts'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { authorsOfCommits, commitsOfPullRequest, getCommit, graphOf, pathsOf, type PullRequestRow } from '#subjects/code/index'
import { gatherReactions } from '#subjects/talk/index'
import { LIST_REACTIONS, LIST_VERDICTS } from './reviewing.queries.js'

type Of = Pick<PullRequestRow, 'repository' | 'number'>
/** A verdict as it was given, with its words. */
export type Given = GivenVerdict & { words: string }

const PATHS_MAX = 200

/** The binds by which the tables know it. */
export function idOf({ repository, number }: Of): Of {
  return { repository, number }
}

/** The identities of the changes that a pull request brings: a patch keeps its own through a rebase; a merge is known by its commit. */
export function patchesOf(ctx: ServiceContext, row: PullRequestRow): string[] {
  const graph = graphOf(ctx, row.repository)
  return [...new Set(commitsOfPullRequest(ctx, row).map((sha) => graph.get(sha)?.patchId ?? sha))].sort()
}

/** The people whose addresses stand as authors of its commits. */
export function authorsOf(ctx: ServiceContext, row: PullRequestRow): Set<string> {
  return authorsOfCommits(ctx.db, row.repository, commitsOfPullRequest(ctx, row))
}

/** What was said of the whole of it, and what of that holds for it as it is. */
export function verdictsOf(ctx: ServiceContext, row: PullRequestRow) {
  const given = sql(ctx.db, LIST_VERDICTS)
    .all<Omit<Given, 'patches'> & { patches: string }>(idOf(row))
    .map((one): Given => ({ ...one, patches: JSON.parse(one.patches) as string[] }))
  return standingVerdicts(given, { patches: patchesOf(ctx, row), authorIds: authorsOf(ctx, row) })
}

/** The paths that its commits touch, some hundred at most. */
export function pathsOfPullRequest(ctx: ServiceContext, row: PullRequestRow): string[] {
  const paths = commitsOfPullRequest(ctx, row).flatMap((sha) => pathsOf(getCommit(ctx.db, row.repository, sha)?.files ?? '[]'))
  return [...new Set(paths)].slice(0, PATHS_MAX)
}

/** Who reacted to each of some remarks. */
export function reactionsTo(db: ServiceContext['db'], remarkIds: readonly string[]): (remarkId: string) => Reactions {
  const rows = sql(db, LIST_REACTIONS).all<{ remarkId: string; reaction: string; personId: string }>({
    remarkIds: JSON.stringify(remarkIds),
  })
  const byRemark = groupBy(rows, ({ remarkId }) => remarkId)
  return (remarkId) => gatherReactions(byRemark.get(remarkId) ?? [])
}
