import { Problem } from '@dystracer/core/basics/problem'
import { median } from '@dystracer/core/basics/median'
import {
  durationChange,
  failureMessages,
  flakiness,
  passesInRow,
  passesToProve,
  type TestOutcome,
} from '@dystracer/core/builds/test-record'
import type { Aside, TestRecord } from '@dystracer/core/builds/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { GET_TEST_ASIDE, LIST_RECORD_OF_TEST } from './failures.queries.js'
import { today } from './failures.views.js'

/** So many builds are looked at. */
const BUILDS_MAX = 500

type Row = TestRecord['outcomes'][number] & TestOutcome & { verifies: string }

/** The past of one test over the newest builds. Throws `not-found` where none of those ran it. */
export function readTestRecord(
  ctx: Pick<ServiceContext, 'db' | 'nowMs'>,
  repository: string,
  { suite, name }: { suite: string; name: string },
): TestRecord {
  const rows = sql(ctx.db, LIST_RECORD_OF_TEST).all<Row>({ repository, suite, name, builds: BUILDS_MAX })
  const [newest] = rows
  if (!newest) throw new Problem('not-found', { detail: `None of the newest builds of ${repository} ran this test.` })
  // Runs that did not come to their end say nothing of the pace.
  const timed = rows.filter((row) => row.outcome === 'passed' && row.durationMs > 0).reverse()
  const change = durationChange(timed.map((row) => row.durationMs))
  const since = change && timed[change.at]
  const flaky = flakiness(rows)
  const needs = passesToProve(flaky?.share ?? 0)
  return {
    repository,
    suite,
    name,
    verifies: JSON.parse(newest.verifies) as string[],
    outcomes: rows.map(({ message: _, verifies: __, ...outcome }) => outcome),
    flaky,
    mending: needs === null ? null : { needs, has: passesInRow(rows) },
    aside: sql(ctx.db, GET_TEST_ASIDE).get<Aside>({ repository, suite, name, today: today(ctx) }) ?? null,
    failures: failureMessages(rows).map(({ message, count, newestAt }) => ({
      message,
      count,
      newest: rows[newestAt]?.number ?? 0,
      newestBuild: rows[newestAt]?.build ?? '',
    })),
    medianMs: timed.length > 0 ? median(timed.map((row) => row.durationMs)) : null,
    change: change && since ? { number: since.number, build: since.build, beforeMs: change.beforeMs, afterMs: change.afterMs } : null,
  }
}
