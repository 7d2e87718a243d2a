import type { Who } from '@dystracer/core/people/who'
import { Problem } from '@dystracer/core/basics/problem'
import type { BuildDetail, TestResult } from '@dystracer/core/builds/wire'
import type { Build } from '@dystracer/core/code/wire'
import type { ServiceContext } from '#platform/context'
import { decodeCursor, pageOf } from '#platform/db/cursor'
import { sql } from '#platform/db/statements'
import { BUILD_COLUMNS, type BuildRow, toBuild } from '#subjects/code/index'
import { hiddenRepositories, visibleItemsTiedTo } from '#subjects/records/index'

export function listBuilds(
  ctx: ServiceContext,
  who: Who,
  input: { repository?: string | undefined; limit: number; cursor?: string | undefined },
): { rows: Build[]; nextCursor: string | null } {
  const after = decodeCursor(input.cursor, 3) ?? [-Number.MAX_SAFE_INTEGER, '', 0]
  const rows = sql<object, BuildRow>(
    ctx.db,
    `SELECT ${BUILD_COLUMNS} FROM build WHERE (@repository IS NULL OR repository = @repository) AND (-started_at_ms, repository, number) > (@a, @b, @c)
    AND +repository NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY started_at_ms DESC, repository, number LIMIT @limit`,
  ).all({
    repository: input.repository ?? null,
    a: after[0],
    b: after[1],
    c: after[2],
    limit: input.limit + 1,
    hidden: hiddenRepositories(ctx.db, who),
  })
  return pageOf(rows, input.limit, toBuild, (row) => [-row.started_at_ms, row.repository, row.number])
}
export function readBuild(ctx: ServiceContext, who: Who, repository: string, number: number): BuildDetail {
  const row = sql<object, BuildRow>(ctx.db, `SELECT ${BUILD_COLUMNS} FROM build WHERE repository = @repository AND number = @number`).get({
    repository,
    number,
  })
  if (!row) throw new Problem('not-found', { detail: `There is no build ${number} of ${repository}.` })
  const tests = sql<object, { suite: string; name: string; outcome: TestResult['outcome']; duration_ms: number; message: string; verifies: string }>(
    ctx.db,
    `SELECT suite, name, outcome, duration_ms, message, verifies FROM test_result
    WHERE repository = @repository AND build = @number ORDER BY outcome = 'passed', suite, name`,
  ).all({ repository, number })
  const pullRequest = sql<object, { number: number }>(
    ctx.db,
    'SELECT number FROM pull_request WHERE repository = @repository AND head = @branch ORDER BY number DESC LIMIT 1',
  ).get({ repository, branch: row.branch })
  const passedBefore =
    sql<object, { count: number }>(
      ctx.db,
      `SELECT count(*) AS count FROM build WHERE repository = @repository AND state = 'passed' AND number < @number AND number > coalesce((SELECT max(number) FROM build
    WHERE repository = @repository AND state = 'broke' AND number < @number), 0)`,
    ).get({ repository, number })?.count ?? 0
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
