import { dayIn } from '@dystracer/core/basics/days'
import type { Brought } from '@dystracer/core/findings/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { LIST_BROUGHT, LIST_FINDING_OF_ONE_ALONE } from './findings.queries.js'
import { sumOf, type FoundRow, type WeightRow } from './found.js'
import { isAnalysed, nearestAnalysed } from './nearest-analysed.js'

/**
 * What a change brings: findings at its newest commit that were first seen in one of its own, and the minutes of those less what it takes
 * away. Null where no report of findings came of that commit.
 */
export function broughtBy(
  ctx: ServiceContext,
  repository: string,
  { headSha, shas }: { headSha: string; shas: readonly string[] },
): Brought | null {
  if (!isAnalysed(ctx, repository, headSha)) return null
  const today = dayIn(null, ctx.nowMs())
  const fresh = sql(ctx.db, LIST_BROUGHT).all<WeightRow>({ repository, sha: headSha, shas: JSON.stringify(shas), today })
  const before = nearestAnalysed(ctx, repository, headSha)
  const gone =
    before === null ? [] : sql(ctx.db, LIST_FINDING_OF_ONE_ALONE).all<FoundRow>({ repository, sha: before, other: headSha, today })
  return sumOf(fresh, gone)
}
