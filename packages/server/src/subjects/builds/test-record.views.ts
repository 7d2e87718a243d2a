import { Problem } from '@dystracer/core/basics/problem'
import { formerName, type TestName } from '@dystracer/core/builds/moved-test'
import { median } from '@dystracer/core/basics/median'
import {
  byCondition,
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
import { mainBranchOf } from '#subjects/code/index'
import { membersOf, ownersOf } from '#subjects/reviews/index'
import { GET_BUILD_WITH_TESTS_BEFORE, GET_TEST_ASIDE, LIST_RECORD_OF_TEST, LIST_TEST_OF_ONE_ALONE } from './failures.queries.js'
import { today } from './failures.views.js'

/** So many builds are looked at. */
const BUILDS_MAX = 500

/** A test is followed through so many names. */
const FORMER_MAX = 5

type Row = TestRecord['outcomes'][number] &
  TestOutcome & { verifies: string; file: string | null; host: string | null; position: number | null }

/** The past of one test over the newest builds, also of those in which it was called otherwise. Throws `not-found` where none ran it. */
export async function readTestRecord(ctx: ServiceContext, repository: string, { suite, name }: TestName): Promise<TestRecord> {
  const { rows, formerly } = pastOf(ctx, repository, { suite, name })
  const [newest] = rows
  if (!newest) throw new Problem('not-found', { detail: `None of the newest builds of ${repository} ran this test.` })
  // Runs that did not come to their end say nothing of the pace.
  const timed = rows.filter((row) => row.outcome === 'passed' && row.durationMs > 0).reverse()
  const change = durationChange(timed.map((row) => row.durationMs))
  const since = change && timed[change.at]
  const flaky = flakiness(rows)
  const needs = passesToProve(flaky?.share ?? 0)
  const { file } = newest
  return {
    repository,
    suite,
    name,
    verifies: JSON.parse(newest.verifies) as string[],
    outcomes: rows.map(({ message: _, verifies: __, file: ___, host: ____, position: _____, ...outcome }) => outcome),
    file,
    ownerIds: file === null ? [] : (await ownersOf(ctx, repository, membersOf(ctx, repository)))(file),
    conditions: byCondition(rows),
    formerly,
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

/** The outcomes of a test, the newest first, through the names that it had. */
function pastOf(ctx: ServiceContext, repository: string, test: TestName): { rows: Row[]; formerly: TestRecord['formerly'] } {
  const rowsOf = (one: TestName) =>
    sql(ctx.db, LIST_RECORD_OF_TEST).all<Row>({ repository, suite: one.suite, name: one.name, builds: BUILDS_MAX })
  const rows = rowsOf(test)
  const formerly: TestRecord['formerly'] = []
  for (let now: TestName | null = test; now !== null && rows.length > 0 && formerly.length < FORMER_MAX; ) {
    const before: TestName | null = nameBefore(ctx, repository, now, rows.at(-1) as Row)
    // A name that came back is followed once.
    if (before === null || [test, ...formerly].some((one) => one.suite === before.suite && one.name === before.name)) break
    const older = rowsOf(before).filter(({ number }) => number < (rows.at(-1)?.number ?? 0))
    if (!older[0]) break
    formerly.push({ ...before, until: older[0].number, untilBuild: older[0].build })
    rows.push(...older)
    now = before
  }
  return { rows, formerly }
}

/** What a test was called in the build before the first that ran it; null where nothing says so. */
function nameBefore(ctx: ServiceContext, repository: string, test: TestName, first: Row): TestName | null {
  const newestOf = (branch: string | null) =>
    sql(ctx.db, GET_BUILD_WITH_TESTS_BEFORE).get<{ number: number }>({ repository, branch, number: first.number })
  const before = newestOf(first.branch) ?? newestOf(mainBranchOf(ctx.db, repository))
  if (!before) return null
  const alone = (number: number, other: number) => sql(ctx.db, LIST_TEST_OF_ONE_ALONE).all<TestName>({ repository, number, other })
  return formerName(test, { gone: alone(before.number, first.number), come: alone(first.number, before.number) })
}
