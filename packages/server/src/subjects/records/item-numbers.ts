import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { GET_NUMBER_OF_PROJECT_BY_PROJECT } from './records.queries.js'

/** The next number of a project; numbers are decisions and stand in the journal. */
export function nextItemKey(ctx: Pick<ServiceContext, 'db'>, project: string): { number: number; key: string } {
  const number = (sql(ctx.db, GET_NUMBER_OF_PROJECT_BY_PROJECT).get<{ number: number }>({ project })?.number ?? 0) + 1
  return { number, key: `${project}-${number}` }
}
