import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'

/** The next number of a project; numbers are decisions and stand in the journal. */
export function nextItemKey(ctx: Pick<ServiceContext, 'db'>, project: string): { number: number; key: string } {
  const number =
    (sql<object, { number: number }>(ctx.db, 'SELECT last_number AS number FROM project WHERE prefix = @project').get({ project })?.number ?? 0) + 1
  return { number, key: `${project}-${number}` }
}
