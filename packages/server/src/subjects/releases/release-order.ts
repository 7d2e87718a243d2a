import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { graphOf } from '#subjects/code/index'
import { LIST_RELEASE_OF_SERVICE } from './contents.queries.js'

/** A release by its name, and the commit that its tag stands at. */
export interface NamedRelease {
  name: string
  sha: string
}

/**
 * The release that one builds on: the nearest of its service by the graph, since tags may be set, or become
 * known, in any order. Null for the first. O(releases × commits between).
 */
export function releaseBefore(
  ctx: Pick<ServiceContext, 'use' | 'db'>,
  { repository, service, sha }: { repository: string; service: string; sha: string },
): NamedRelease | null {
  const graph = graphOf(ctx, repository)
  return sql(ctx.db, LIST_RELEASE_OF_SERVICE)
    .all<NamedRelease>({ service })
    .filter((one) => one.sha !== sha && graph.isReachable(one.sha, sha))
    .reduce<NamedRelease | null>((nearest, one) => (nearest === null || graph.isReachable(nearest.sha, one.sha) ? one : nearest), null)
}
