import type { BisectionOutcome } from '@dystracer/core/bisecting/events'

/** One row of `bisection`. */
export interface BisectionRow {
  bisectionId: string
  repository: string
  suite: string
  name: string
  good: string
  bad: string
  build: number
  by: string
  atMs: number
  outcome: BisectionOutcome | null
  /** A JSON list of hashes. */
  guilty: string
  endedAtMs: number | null
}
const COLUMNS = `bisection_id AS bisectionId, repository, suite, name, good, bad, build, by, at_ms AS atMs, outcome, guilty,
    ended_at_ms AS endedAtMs`

// Of requireBisection; by the primary key; one row.
export const GET_BISECTION = `SELECT ${COLUMNS} FROM bisection WHERE bisection_id = @bisectionId` as const

// Of goOnWithAll; by the index of those that are open.
export const LIST_OPEN_BISECTIONS = `SELECT ${COLUMNS} FROM bisection WHERE ended_at_ms IS NULL ORDER BY at_ms` as const

// Of listBisections; by the index of repository and time, backwards; at most @limit rows.
export const LIST_BISECTIONS_OF_REPOSITORY = `SELECT ${COLUMNS} FROM bisection WHERE repository = @repository
    ORDER BY at_ms DESC LIMIT @limit` as const

// Of readTold; by the index of builds by commit, then by the primary key of results: one look for each commit.
export const LIST_OUTCOMES_AT_COMMITS = `SELECT b.sha, b.number, t.outcome FROM json_each(@shas) s
    CROSS JOIN build b INDEXED BY build_sha ON b.repository = @repository AND b.sha = s.value
    CROSS JOIN test_result t ON t.repository = @repository AND t.build = b.number AND t.suite = @suite AND t.name = @name
    WHERE b.state <> 'running' ORDER BY b.number`

// Of readTold; by the index of repository and time; what was wanted of a repository since a search began.
export const LIST_WANTED_SINCE = `SELECT wanted_id AS wantedId, sha, number, ended_at_ms AS endedAtMs FROM wanted_build
    WHERE repository = @repository AND wanted_at_ms >= @sinceMs ORDER BY wanted_at_ms`
