import { compareVersions } from '@dystracer/core/releases/compare-versions'
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
 * known, in any order. Where several names stand at that commit, it is the version right below this one, else the
 * lowest. Null for the first. O(releases × commits between).
 */
export function releaseBefore(
  ctx: Pick<ServiceContext, 'use' | 'db'>,
  { repository, service, name, sha }: NamedRelease & { repository: string; service: string },
): NamedRelease | null {
  const graph = graphOf(ctx, repository)
  const isNearer = (one: NamedRelease, nearest: NamedRelease) =>
    one.sha === nearest.sha ? isBetterName(one.name, nearest.name, name) : graph.isReachable(nearest.sha, one.sha)
  return sql(ctx.db, LIST_RELEASE_OF_SERVICE)
    .all<NamedRelease>({ service })
    .filter((one) => one.sha !== sha && graph.isReachable(one.sha, sha))
    .reduce<NamedRelease | null>((nearest, one) => (nearest === null || isNearer(one, nearest) ? one : nearest), null)
}

/** Of two names of one commit, whether the first is rather what `name` builds on. */
function isBetterName(one: string, other: string, name: string): boolean {
  const [isBelow, isOtherBelow] = [compareVersions(one, name) < 0, compareVersions(other, name) < 0]
  if (isBelow !== isOtherBelow) return isBelow
  return compareVersions(one, other) > 0 === isBelow
}
