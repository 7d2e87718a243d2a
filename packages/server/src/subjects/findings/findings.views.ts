import { dayIn } from '@dystracer/core/basics/days'
import type { AsideFinding, Brought, FoundHere } from '@dystracer/core/findings/wire'
import { firstSentence } from '@dystracer/core/builds/reports/sarif'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { hiddenRepositories } from '#subjects/records/index'
import { COUNT_FINDING_OF_BOTH, LIST_FINDING_ASIDE, LIST_FINDING_OF_ONE_ALONE } from './findings.queries.js'
import { sumOf, toFound, type FoundRow } from './found.js'
import { isAnalysed, nearestAnalysed } from './nearest-analysed.js'

const SHOWN_MAX = 100

/** What analysers found at a commit, held against another. */
export interface FindingsAt {
  isAnalysed: boolean
  against: string | null
  brought: Brought
  fresh: FoundHere[]
  gone: FoundHere[]
  stayed: number
  more: number
}

/**
 * What analysers found at a commit: new and gone against the nearest analysed commit before it. A finding is the same one by its identity,
 * so that lines which moved make nothing new.
 */
export function findingsAt(ctx: ServiceContext, repository: string, sha: string): FindingsAt {
  if (!isAnalysed(ctx, repository, sha))
    return { isAnalysed: false, against: null, brought: sumOf([], []), fresh: [], gone: [], stayed: 0, more: 0 }
  const against = nearestAnalysed(ctx, repository, sha)
  const today = dayIn(null, ctx.nowMs())
  const alone = (of: string, other: string) => sql(ctx.db, LIST_FINDING_OF_ONE_ALONE).all<FoundRow>({ repository, sha: of, other, today })
  // Against nothing all that is found is new.
  const fresh = alone(sha, against ?? '')
  const gone = against === null ? [] : alone(against, sha)
  return {
    isAnalysed: true,
    against,
    brought: sumOf(
      fresh.filter(({ asideUntil }) => asideUntil === null),
      gone,
    ),
    fresh: fresh.slice(0, SHOWN_MAX).map(toFound),
    gone: gone.slice(0, SHOWN_MAX).map(toFound),
    stayed:
      against === null ? 0 : (sql(ctx.db, COUNT_FINDING_OF_BOTH).get<{ count: number }>({ repository, sha, other: against })?.count ?? 0),
    more: Math.max(0, fresh.length - SHOWN_MAX) + Math.max(0, gone.length - SHOWN_MAX),
  }
}

/** Findings that are set aside in the repositories that the asker sees. */
export function listAsideFindings(ctx: ServiceContext, who: Who): AsideFinding[] {
  return sql(ctx.db, LIST_FINDING_ASIDE)
    .all<Omit<AsideFinding, 'what'> & { message: string }>({
      today: dayIn(null, ctx.nowMs()),
      hidden: hiddenRepositories(ctx.db, who),
    })
    .map(({ message, ...row }) => ({ ...row, what: firstSentence(message) }))
}
