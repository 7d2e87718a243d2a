import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { GET_MEASURED_OF_BRANCH, SUM_COVERAGE } from './code.queries.js'

/** The newest build of a branch that measured which lines tests run; with `before` the newest below that number. Null where none did. */
export function measuredBuild(
  db: Db,
  { repository, branch, before = Number.MAX_SAFE_INTEGER }: { repository: string; branch: string; before?: number },
): { number: number; name: string } | null {
  return sql(db, GET_MEASURED_OF_BRANCH).get<{ number: number; name: string }>({ repository, branch, before }) ?? null
}

/** How many lines the tests of a build ran, and did not; both 0 where nothing was measured. */
export function coverageOfBuild(db: Db, repository: string, build: number): { covered: number; missed: number } {
  return sql(db, SUM_COVERAGE).get<{ covered: number; missed: number }>({ repository, build }) ?? { covered: 0, missed: 0 }
}
