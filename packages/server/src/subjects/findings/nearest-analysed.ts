import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { graphOf, mainTip } from '#subjects/code/index'
import { HAS_ANALYSED, LIST_ANALYSED } from './findings.queries.js'

/** Whether a report of findings came of a commit, also one that found nothing. */
export function isAnalysed(ctx: Pick<ServiceContext, 'db'>, repository: string, sha: string): boolean {
  return sql(ctx.db, HAS_ANALYSED).get({ repository, sha }) !== undefined
}

/**
 * The nearest analysed commit that a commit builds on. Beside the main line only what that line has counts: what the branch itself brought
 * before is its own, and stays new until it is merged. O(analysed commits).
 */
export function nearestAnalysed(ctx: ServiceContext, repository: string, sha: string): string | null {
  const graph = graphOf(ctx, repository)
  const main = mainTip(ctx.db, repository)
  const isBeside = main !== null && !graph.isReachable(sha, main)
  return sql(ctx.db, LIST_ANALYSED)
    .all<{ sha: string }>({ repository, sha })
    .map((row) => row.sha)
    .filter((other) => graph.isReachable(other, sha) && (!isBeside || (main !== null && graph.isReachable(other, main))))
    .reduce<string | null>((nearest, other) => (nearest === null || graph.isReachable(nearest, other) ? other : nearest), null)
}
