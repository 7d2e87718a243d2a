import type { Build } from '@dystracer/core/code/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { GET_BUILD_BY_REPOSITORY_AND_SHA } from './code.queries.js'

export interface BuildRow {
  repository: string
  number: number
  name: string
  sha: string
  branch: string
  state: Build['state']
  started_at_ms: number
  finished_at_ms: number | null
  passed: number
  failed: number
  skipped: number
}
export function toBuild(row: BuildRow): Build {
  return {
    repository: row.repository,
    number: row.number,
    name: row.name,
    sha: row.sha,
    branch: row.branch,
    state: row.state,
    startedAtMs: row.started_at_ms,
    finishedAtMs: row.finished_at_ms,
    passed: row.passed,
    failed: row.failed,
    skipped: row.skipped,
  }
}
export function latestBuild(ctx: ServiceContext, repository: string, sha: string): Build | null {
  const row = sql(ctx.db, GET_BUILD_BY_REPOSITORY_AND_SHA).get<BuildRow>({ repository, sha })
  return row ? toBuild(row) : null
}
