import { failingSince, type TestRun } from '@dystracer/core/builds/failing-tests'
import type { Finding } from '@dystracer/core/builds/reports/report'
import { firstSentence } from '@dystracer/core/builds/reports/sarif'
import type { QualityFacts, QualityFlag } from '@dystracer/core/quality/quality-rule'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { coverageOfBuild, measuredBuild } from '#subjects/code/index'
import { LIST_FALLEN_FILES } from './rules.queries.js'
import {
  GET_BUILD_BY_REPOSITORY_AND_BUILD,
  GET_MAIN_BRANCH_OF_REPOSITORY_BY_REPOSITORY,
  GET_OUTCOME_OF_TEST_RESULT_BY_REPOSITORY_AND_NUMBER,
  LIST_ENDED_BUILDS_UP_TO,
  LIST_FAILED_TESTS,
  type BuildFacts,
} from './quality-items.queries.js'

/** Something that a rule may log: what conditions can name of it, and the item that it would be. */
export interface Candidate {
  facts: QualityFacts
  /** One item for each: the same thing reported again changes nothing. */
  idempotencyKey: string
  title: string
  description: string
  cause: 'test' | 'finding'
  /** A build or a commit as a thing. */
  place: string
  paths: string[]
  /** As a row of a table: what, where, what it says. */
  row: readonly [string, string, string]
}

const BUILDS_LOOKED_AT = 20
/** Failures of one build that rules are asked about: more at once have few causes, which the first of them show. */
const FAILURES_MAX = 500

const flagsOf = (isMain: boolean): ReadonlySet<QualityFlag> => new Set(isMain ? ['main'] : [])

function buildOf(ctx: ServiceContext, of: { repository: string; build: number }): (BuildFacts & { isMain: boolean }) | null {
  const build = sql(ctx.db, GET_BUILD_BY_REPOSITORY_AND_BUILD).get<BuildFacts>(of)
  const main = sql(ctx.db, GET_MAIN_BRANCH_OF_REPOSITORY_BY_REPOSITORY).get<{ main_branch: string }>(of)?.main_branch
  return build ? { ...build, isMain: build.branch === main } : null
}

/** The tests that fail in a build, each with since when and in how many builds of its branch running. Twenty builds back. */
export function failuresOf(ctx: ServiceContext, { repository, build }: { repository: string; build: number }): Candidate[] {
  const about = buildOf(ctx, { repository, build })
  if (about?.state !== 'broke') return []
  const { branch, isMain } = about
  const builds = sql(ctx.db, LIST_ENDED_BUILDS_UP_TO).all<{ number: number }>({ repository, branch, build, limit: BUILDS_LOOKED_AT })
  const failed = sql(ctx.db, LIST_FAILED_TESTS).all<{ suite: string; name: string; message: string }>({
    repository,
    build,
    limit: FAILURES_MAX,
  })
  return failed.flatMap(({ suite, name, message }): Candidate[] => {
    const runs = builds.flatMap(({ number }) => {
      const outcome = sql(ctx.db, GET_OUTCOME_OF_TEST_RESULT_BY_REPOSITORY_AND_NUMBER).get<{ outcome: TestRun['outcome'] }>({
        repository,
        number,
        suite,
        name,
      })?.outcome
      return outcome ? [{ build: number, outcome }] : []
    })
    const since = failingSince(runs, { atLeast: 1 })
    if (!since) return []
    const running = since.runs === 1 ? `fails in build ${build}` : `fails in ${since.runs} builds running, since build ${since.build}`
    return [
      {
        facts: {
          about: 'test',
          values: { repository, branch, suite, test: name, message, builds: since.runs },
          flags: flagsOf(isMain),
          text: `${suite} ${name} ${message}`,
        },
        idempotencyKey: `failing-test/${repository}/${suite}/${name}/${since.build}`,
        title: `${name} fails`,
        description:
          `The test “${name}”${suite ? ` of ${suite}` : ''} ${running} of ${repository}.\n\n` + `\`\`\`\n${message.slice(0, 3000)}\n\`\`\``,
        cause: 'test',
        place: `build:${repository}/${build}`,
        paths: [],
        row: [name, suite, message],
      },
    ]
  })
}

/** A finding that no report before held, at a commit. */
export function findingOf({ repository, sha }: { repository: string; sha: string }, finding: Finding): Candidate {
  const { tool, identity, ruleId, level, message, file, line } = finding
  const place = file === null ? '' : `${file}${line === null ? '' : `:${line}`}`
  return {
    facts: {
      about: 'finding',
      values: { repository, tool, rule: ruleId, level, path: file ?? '', message },
      flags: flagsOf(false),
      text: `${tool} ${ruleId} ${file ?? ''} ${message}`,
    },
    idempotencyKey: `finding/${repository}/${tool}/${identity}`,
    title: firstSentence(message) || ruleId,
    description:
      `${tool} found ${ruleId}${place === '' ? '' : ` in ${place}`}, at commit ` +
      `${sha.slice(0, 12)}:\n\n> ${message.replaceAll('\n', '\n> ')}`,
    cause: 'finding',
    place: `commit:${repository}/${sha}`,
    paths: file === null ? [] : [file],
    row: [ruleId, place, firstSentence(message)],
  }
}

/** The coverage of a build that has ended, beside that of the build of its branch before it; null where either measured nothing. */
export function coverageOf(ctx: ServiceContext, { repository, build }: { repository: string; build: number }): Candidate | null {
  const about = buildOf(ctx, { repository, build })
  if (!about || about.state === 'running') return null
  const { branch, isMain } = about
  const before = measuredBuild(ctx.db, { repository, branch, before: build })?.number
  if (before === undefined) return null
  const [was, is] = [percentOf(ctx, repository, before), percentOf(ctx, repository, build)]
  if (was === null || is === null) return null
  const fell = round(was - is)
  const files = sql(ctx.db, LIST_FALLEN_FILES).all<{ path: string; more: number }>({ repository, build, before })
  return {
    facts: { about: 'coverage', values: { repository, branch, covered: is, fell }, flags: flagsOf(isMain), text: branch },
    idempotencyKey: `coverage-fell/${repository}/${build}`,
    title: `Tests of ${repository} run ${is} % of its lines, ${fell} fewer than before`,
    description: [
      `On ${branch}, build ${build} ran ${is} % of the lines that were measured; build ${before} ran ${was} %.`,
      ...(files.length === 0
        ? []
        : [
            ['| file | lines not run, more than before |', '|---|---|', ...files.map(({ path, more }) => `| ${path} | ${more} |`)].join(
              '\n',
            ),
          ]),
    ].join('\n\n'),
    cause: 'finding',
    place: `build:${repository}/${build}`,
    paths: files.map(({ path }) => path),
    row: [`${is} %`, branch, `${fell} fewer than in build ${before}`],
  }
}

function percentOf(ctx: ServiceContext, repository: string, build: number): number | null {
  const { covered, missed } = coverageOfBuild(ctx.db, repository, build)
  return covered + missed === 0 ? null : round((covered / (covered + missed)) * 100)
}

const round = (share: number): number => Math.round(share * 10) / 10
