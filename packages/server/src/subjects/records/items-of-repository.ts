import { sql } from '#platform/db/statements'
import type { ServiceContext } from '#platform/context'

/** Items that a repository's movement may concern: tied to its branches, commits or pull requests and not yet settled, or settled while something there can still be taken back. */
export function itemsOfRepository(ctx: Pick<ServiceContext, 'db'>, repository: string): string[] {
  return sql<object, { from_id: string }>(
    ctx.db,
    `SELECT DISTINCT from_id FROM link_assertion WHERE retracted_at_ms IS NULL AND from_kind = 'item' AND to_kind IN ('branch', 'commit', 'pull-request')
    AND to_id >= @from AND to_id < @to ORDER BY from_id`,
  )
    .all({ from: `${repository}/`, to: `${repository}0` })
    .map((row) => row.from_id)
}
