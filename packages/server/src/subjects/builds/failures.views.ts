import { dayIn } from '@dystracer/core/basics/days'
import { groupFailures } from '@dystracer/core/builds/failure-groups'
import type { FailureGroup, Failures, TestResult } from '@dystracer/core/builds/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { personByAddress } from '#subjects/people/index'
import { type BuildRow, graphOf, mainTip, suspectsBetween } from '#subjects/code/index'
import { GET_BUILD_BY_REPOSITORY_AND_NUMBER } from './builds.queries.js'
import {
  GET_FAILURE_TAKEN,
  LIST_ADDRESS_OF_AUTHORS,
  LIST_BUILDS_OF_BRANCH,
  LIST_COMMITS_WHERE_PASSED,
  LIST_FAILED_ASIDE,
  LIST_FAILED_TESTS,
  LIST_OUTCOMES_OF_TEST,
} from './failures.queries.js'

type Strip = FailureGroup['strip']
interface FailedRow {
  suite: string
  name: string
  outcome: TestResult['outcome']
  message: string
  verifies: string
}

const STRIP_BUILDS = 60
/** So many builds of other branches are looked at for one in which a test passed. */
const OTHER_BUILDS = 200
/** Groups whose cause is looked for in git, for one answer. */
const SEARCHED_MAX = 8

/** A build by its number. Throws `not-found`. */
export function requireBuild(ctx: Pick<ServiceContext, 'db'>, repository: string, number: number): BuildRow {
  const row = sql(ctx.db, GET_BUILD_BY_REPOSITORY_AND_NUMBER).get<BuildRow>({ repository, number })
  if (!row) throw new Problem('not-found', { detail: `There is no build ${number} of ${repository}.` })
  return row
}

/**
 * What broke in a build, told by cause: failures that likely have one, since when, which commits may have brought it in, who is on it. The
 * past is that of the build's branch. Throws `not-found`.
 */
export async function readFailures(ctx: ServiceContext, who: Who, repository: string, number: number): Promise<Failures> {
  const build = requireBuild(ctx, repository, number)
  const rows = sql(ctx.db, LIST_FAILED_TESTS).all<FailedRow>({ repository, number })
  const builds = buildsUpTo(ctx, build)
  const aside = sql(ctx.db, LIST_FAILED_ASIDE).all<Failures['aside'][number]>({ repository, number, today: today(ctx) })
  const isAside = new Set(aside.map(({ suite, name }) => `${suite}\0${name}`))
  const failed = rows.filter(({ outcome, suite, name }) => outcome === 'failed' && !isAside.has(`${suite}\0${name}`))
  const groups = await Promise.all(
    groupFailures(failed).map(async ({ tests, place }, at): Promise<FailureGroup> => {
      const members = tests.map((index) => failed[index] as FailedRow)
      const first = members[0] as FailedRow
      const strip = stripOf(ctx, repository, builds, first)
      const since = sinceOf(builds, strip, build)
      const suspects = at < SEARCHED_MAX ? await suspectsOf(ctx, who, { repository, first, since }) : []
      return {
        tests: members.map(({ verifies, outcome: _, ...test }) => ({ ...test, verifies: JSON.parse(verifies) as string[] })),
        place,
        since: { number: since.build.number, name: since.build.name, atMs: since.build.started_at_ms, passedBefore: since.passedBefore },
        strip,
        canBisect: at < SEARCHED_MAX && betweenOf(ctx, build, first, since) !== null,
        suspects,
        isMine: isOneOfMine(ctx, who, repository, suspects),
        onIt: takenBy(ctx, build, builds, strip, first),
      }
    }),
  )
  const flaky = rows
    .filter(({ outcome }) => outcome === 'flaky')
    .map((test) => ({ suite: test.suite, name: test.name, message: test.message, strip: stripOf(ctx, repository, builds, test) }))
  return { groups, flaky, aside }
}

/** Whether somebody wrote one of the commits, from whichever address of theirs. */
function isOneOfMine(ctx: ServiceContext, who: Who, repository: string, suspects: FailureGroup['suspects']): boolean {
  if (who.personId === null) return false
  return sql(ctx.db, LIST_ADDRESS_OF_AUTHORS)
    .all<{ email: string }>({ repository, shas: JSON.stringify(suspects.map(({ sha }) => sha)) })
    .some(({ email }) => personByAddress(ctx.db, email)?.personId === who.personId)
}

/**
 * Between which commits a test broke: one in which it passed, and the first since then in which it fails. The newest build of the same
 * branch in which it passed comes first; else the newest of any other on whose commit this one builds, as of a branch that was merged. Null
 * where it does not fail in this build, no such build is known, or nobody said of which commits they are.
 */
export function breakOf(
  ctx: Pick<ServiceContext, 'db' | 'use'>,
  build: BuildRow,
  test: { suite: string; name: string },
): { good: string; bad: string } | null {
  const builds = buildsUpTo(ctx, build)
  const strip = stripOf(ctx, build.repository, builds, test)
  const here = strip.at(-1)
  if (here?.number !== build.number || here.outcome !== 'failed') return null
  return betweenOf(ctx, build, test, sinceOf(builds, strip, build))
}

/** The newest builds of the branch of a build, itself the last. */
function buildsUpTo(ctx: Pick<ServiceContext, 'db'>, { repository, number, branch }: BuildRow): BuildRow[] {
  return sql(ctx.db, LIST_BUILDS_OF_BRANCH).all<BuildRow>({ repository, number, branch, limit: STRIP_BUILDS }).reverse()
}

function betweenOf(
  ctx: Pick<ServiceContext, 'db' | 'use'>,
  { repository, number }: BuildRow,
  { suite, name }: { suite: string; name: string },
  { good, build: bad }: Since,
): { good: string; bad: string } | null {
  if (!bad.sha) return null
  if (good?.sha) return { good: good.sha, bad: bad.sha }
  const graph = graphOf(ctx, repository)
  const passed = sql(ctx.db, LIST_COMMITS_WHERE_PASSED).all<{ sha: string }>({
    repository,
    number,
    limit: OTHER_BUILDS,
    suite,
    name,
  })
  const under = passed.find(({ sha }) => sha !== bad.sha && graph.isReachable(sha, bad.sha))
  return under ? { good: under.sha, bad: bad.sha } : null
}

/** The day of today in UTC. */
export function today(ctx: Pick<ServiceContext, 'nowMs'>): string {
  return dayIn(null, ctx.nowMs())
}

function stripOf(
  ctx: Pick<ServiceContext, 'db'>,
  repository: string,
  builds: readonly BuildRow[],
  { suite, name }: Pick<FailedRow, 'suite' | 'name'>,
): Strip {
  const numbers = JSON.stringify(builds.map((build) => build.number))
  const outcomes = new Map(
    sql(ctx.db, LIST_OUTCOMES_OF_TEST)
      .all<{ number: number; outcome: TestResult['outcome'] }>({ repository, numbers, suite, name })
      .map((row) => [row.number, row.outcome]),
  )
  return builds.flatMap((build) => {
    const outcome = outcomes.get(build.number)
    return outcome ? [{ number: build.number, name: build.name, outcome }] : []
  })
}

interface Since {
  /** The first build without a pass in between. */
  build: BuildRow
  /** The newest that passed before it; null where none of those looked at did. */
  good: BuildRow | null
  /** The build of the branch before the first that broke. */
  before: BuildRow | null
  passedBefore: number
}

function sinceOf(builds: readonly BuildRow[], strip: Strip, build: BuildRow): Since {
  const rowOf = (number: number) => builds.find((row) => row.number === number) ?? build
  const passedAt = strip.findLastIndex(({ outcome }) => outcome === 'passed')
  const first = strip.slice(passedAt + 1).find(({ outcome }) => outcome === 'failed')
  let passedBefore = 0
  for (let at = passedAt; at >= 0 && strip[at]?.outcome !== 'failed'; at--) if (strip[at]?.outcome === 'passed') passedBefore++
  const broke = first ? rowOf(first.number) : build
  const before = builds.findLast((row) => row.number < broke.number) ?? null
  return { build: broke, before, good: passedAt < 0 ? null : rowOf(strip[passedAt]?.number ?? 0), passedBefore }
}

async function suspectsOf(
  ctx: ServiceContext,
  who: Who,
  { repository, first, since }: { repository: string; first: FailedRow; since: Since },
): Promise<FailureGroup['suspects']> {
  // One that never passed came with its first build: that is held against the build before, or, of a branch's first, against the main line.
  const lastGood = since.good?.sha || since.before?.sha || mainTip(ctx.db, repository)
  const firstBad = since.build.sha
  if (!lastGood || !firstBad) return []
  return (
    (await suspectsBetween(ctx, who, repository, { lastGood, firstBad, message: first.message, names: [first.name, first.suite] })) ?? []
  )
}

/** Who sees to it: until it passed again after they said so. */
function takenBy(
  ctx: ServiceContext,
  build: BuildRow,
  builds: readonly BuildRow[],
  strip: Strip,
  { suite, name }: FailedRow,
): FailureGroup['onIt'] {
  const { repository, branch } = build
  const taken = sql(ctx.db, GET_FAILURE_TAKEN).get<{ personId: string; note: string; atMs: number }>({ repository, branch, suite, name })
  if (!taken) return null
  const hasPassed = strip.some(({ number, outcome }) => {
    const at = builds.find((row) => row.number === number)?.started_at_ms ?? 0
    return outcome === 'passed' && at > taken.atMs
  })
  return hasPassed ? null : taken
}
