import type { BuildFindings } from '@dystracer/core/builds/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { graphOf, mainTip } from '#subjects/code/index'
import { requireBuild } from './failures.views.js'
import { COUNT_FINDING_OF_BOTH, HAS_ANALYSED, LIST_ANALYSED, LIST_FINDING_OF_ONE_ALONE } from './builds.queries.js'

const SHOWN_MAX = 100

type Found = BuildFindings['fresh'][number]

/**
 * What analysers found at a build's commit: new and gone against the nearest analysed commit before it. A finding is the same one by its
 * identity, so that lines which moved make nothing new. Throws `not-found`.
 */
export function readBuildFindings(ctx: ServiceContext, repository: string, number: number): BuildFindings {
  const { sha } = requireBuild(ctx, repository, number)
  if (sql(ctx.db, HAS_ANALYSED).get({ repository, sha }) === undefined)
    return { isAnalysed: false, against: null, fresh: [], gone: [], stayed: 0, more: 0 }
  const against = nearestAnalysed(ctx, repository, sha)
  const alone = (of: string, other: string) => sql(ctx.db, LIST_FINDING_OF_ONE_ALONE).all<Found>({ repository, sha: of, other })
  // Against nothing all that is found is new.
  const fresh = alone(sha, against ?? '')
  const gone = against === null ? [] : alone(against, sha)
  return {
    isAnalysed: true,
    against,
    fresh: fresh.slice(0, SHOWN_MAX),
    gone: gone.slice(0, SHOWN_MAX),
    stayed:
      against === null ? 0 : (sql(ctx.db, COUNT_FINDING_OF_BOTH).get<{ count: number }>({ repository, sha, other: against })?.count ?? 0),
    more: Math.max(0, fresh.length - SHOWN_MAX) + Math.max(0, gone.length - SHOWN_MAX),
  }
}

/**
 * The nearest analysed commit that a commit builds on. Beside the main line only what that line has counts: what the branch itself brought
 * before is its own, and stays new until it is merged. O(analysed commits).
 */
function nearestAnalysed(ctx: ServiceContext, repository: string, sha: string): string | null {
  const graph = graphOf(ctx, repository)
  const main = mainTip(ctx.db, repository)
  const isBeside = main !== null && !graph.isReachable(sha, main)
  return sql(ctx.db, LIST_ANALYSED)
    .all<{ sha: string }>({ repository, sha })
    .map((row) => row.sha)
    .filter((other) => graph.isReachable(other, sha) && (!isBeside || (main !== null && graph.isReachable(other, main))))
    .reduce<string | null>((nearest, other) => (nearest === null || graph.isReachable(nearest, other) ? other : nearest), null)
}
