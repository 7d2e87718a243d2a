import { sql } from '#platform/db/statements'
import type { ServiceContext } from '#platform/context'
import { LIST_LINK_ASSERTION_BY_FROM_AND_TO } from './records.queries.js'

/**
 * Items that a repository's movement may concern: tied to its branches, commits or pull requests and not yet settled, or settled while
 * something there can still be taken back.
 */
export function itemsOfRepository(ctx: Pick<ServiceContext, 'db'>, repository: string): string[] {
  return sql(ctx.db, LIST_LINK_ASSERTION_BY_FROM_AND_TO)
    .all<{ from_id: string }>({ from: `${repository}/`, to: `${repository}0` })
    .map((row) => row.from_id)
}
