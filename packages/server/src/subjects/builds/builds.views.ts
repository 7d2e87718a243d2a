import type { Who } from '@dystracer/core/people/who'
import { Problem } from '@dystracer/core/basics/problem'
import type { BuildDetail, TestResult } from '@dystracer/core/builds/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { type BuildRow, toBuild } from '#subjects/code/index'
import { visibleItemsTiedTo } from '#subjects/records/index'
import {
  COUNT_BUILD_BY_REPOSITORY_AND_NUMBER,
  GET_BUILD_BY_REPOSITORY_AND_NUMBER,
  GET_NUMBER_OF_PULL_REQUEST_BY_REPOSITORY_AND_BRANCH,
  LIST_BUILD_STEPS,
  LIST_COVERAGE,
  LIST_TEST_RESULT_BY_REPOSITORY_AND_NUMBER,
} from './builds.queries.js'

export function readBuild(ctx: ServiceContext, who: Who, repository: string, number: number): BuildDetail {
  const row = sql(ctx.db, GET_BUILD_BY_REPOSITORY_AND_NUMBER).get<BuildRow>({
    repository,
    number,
  })
  if (!row) throw new Problem('not-found', { detail: `There is no build ${number} of ${repository}.` })
  const tests = sql(ctx.db, LIST_TEST_RESULT_BY_REPOSITORY_AND_NUMBER).all<{
    suite: string
    name: string
    outcome: TestResult['outcome']
    duration_ms: number
    message: string
    verifies: string
  }>({
    repository,
    number,
  })
  const pullRequest = sql(ctx.db, GET_NUMBER_OF_PULL_REQUEST_BY_REPOSITORY_AND_BRANCH).get<{ number: number }>({
    repository,
    branch: row.branch,
  })
  const passedBefore = sql(ctx.db, COUNT_BUILD_BY_REPOSITORY_AND_NUMBER).get<{ count: number }>({ repository, number })?.count ?? 0
  return {
    ...toBuild(row),
    tests: tests.map((test) => ({
      suite: test.suite,
      name: test.name,
      outcome: test.outcome,
      durationMs: test.duration_ms,
      message: test.message,
      verifies: JSON.parse(test.verifies) as string[],
    })),
    steps: sql(ctx.db, LIST_BUILD_STEPS).all<BuildDetail['steps'][number]>({ repository, number }),
    coverage: sql(ctx.db, LIST_COVERAGE).all<BuildDetail['coverage'][number]>({ repository, number }),
    items: [
      ...new Set([
        ...visibleItemsTiedTo(ctx.db, who, { kind: 'branch', id: `${repository}/${row.branch}` }),
        ...visibleItemsTiedTo(ctx.db, who, { kind: 'commit', id: `${repository}/${row.sha}` }),
      ]),
    ],
    pullRequest: pullRequest?.number ?? null,
    passedBefore,
  }
}
