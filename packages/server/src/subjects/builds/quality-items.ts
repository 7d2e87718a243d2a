import { Problem } from '@dystracer/core/basics/problem'
import { failingSince, type TestRun } from '@dystracer/core/builds/failing-tests'
import { ReportFormatError } from './reports/junit.js'
import { readSarif, type Finding } from './reports/sarif.js'
import { sql } from '#platform/db/statements'
import { entryByIdempotencyKey } from '#platform/journal/journal.queries'
import type { JournalWriter } from '#platform/journal/journal'
import type { ServiceContext } from '#platform/context'
import { nextItemKey } from '#subjects/records/index'
import { routeNewItem } from '#subjects/routing/index'
import {
  GET_BUILD_BY_REPOSITORY_AND_BUILD,
  GET_MAIN_BRANCH_OF_REPOSITORY_BY_REPOSITORY,
  GET_NAME_OF_COMPONENT_BY_REPOSITORY_AND_PROJECT,
  GET_OUTCOME_OF_TEST_RESULT_BY_REPOSITORY_AND_NUMBER,
  GET_PROJECT_OF_SERVICE_BY_REPOSITORY,
} from './quality-items.queries.js'

const BUILDS_LOOKED_AT = 20
/** So many items come of one build or report at most: more at once have one cause, which the first of them show. */
const ITEMS_MAX = 20

interface NewItem {
  /** One item for each: the same thing reported again changes nothing. */
  idempotencyKey: string
  project: string
  component: string | null
  title: string
  description: string
  cause: 'test' | 'finding'
  source: string
  paths: string[]
}

/** Logs what a machine found, once; it waits in Triage. */
function logFound(ctx: ServiceContext, writer: JournalWriter, found: NewItem): void {
  if (entryByIdempotencyKey(ctx.db, found.idempotencyKey)) return
  const item = nextItemKey(ctx, found.project)
  writer.append({
    kind: 'item-logged',
    actor: 'system',
    subjects: [`item:${item.key}`],
    cause: found.cause === 'test' ? 'a failing test' : 'a finding',
    source: found.source,
    idempotencyKey: found.idempotencyKey,
    body: {
      ...item,
      project: found.project,
      type: 'defect',
      title: found.title.slice(0, 200),
      description: found.description,
      severity: null,
      component: found.component,
      milestone: null,
      labels: [],
      foundIn: null,
      cause: found.cause,
      reporterId: null,
      fault: null,
    },
  })
  routeNewItem(ctx, writer, item.key, found.paths)
}

/** Where items of a repository go: the project of its service, the component that it belongs to. */
function placeOf(ctx: ServiceContext, repository: string): { project: string; component: string | null } | null {
  const project = sql(ctx.db, GET_PROJECT_OF_SERVICE_BY_REPOSITORY).get<{ project: string }>({
    repository,
  })?.project
  if (project === undefined) return null
  const component = sql(ctx.db, GET_NAME_OF_COMPONENT_BY_REPOSITORY_AND_PROJECT).get<{ name: string }>({ repository, project })?.name
  return { project, component: component ?? null }
}

/**
 * Logs the tests that fail build after build on the main line, one item for each run of failures. To be called inside the write that a
 * build or its results came with.
 */
export function logFailingTests(ctx: ServiceContext, writer: JournalWriter, input: { repository: string; build: number }): void {
  const place = placeOf(ctx, input.repository)
  const main = sql(ctx.db, GET_MAIN_BRANCH_OF_REPOSITORY_BY_REPOSITORY).get<{ main_branch: string }>(input)?.main_branch
  const build = sql(ctx.db, GET_BUILD_BY_REPOSITORY_AND_BUILD).get<{
    branch: string
    state: string
  }>(input)
  if (!place || !build || build.branch !== main || build.state !== 'broke') return
  const builds = sql(
    ctx.db,
    `SELECT number FROM build WHERE repository = @repository AND branch = @main AND state <> 'running' AND number <= @build ORDER BY number DESC LIMIT ${BUILDS_LOOKED_AT}`,
  ).all<{ number: number }>({ ...input, main })
  const failed = sql(
    ctx.db,
    `SELECT suite, name, message FROM test_result WHERE repository = @repository AND build = @build AND outcome = 'failed' ORDER BY suite, name LIMIT ${ITEMS_MAX}`,
  ).all<{ suite: string; name: string; message: string }>(input)
  for (const test of failed) {
    const runs = builds.flatMap(({ number }) => {
      const outcome = sql(ctx.db, GET_OUTCOME_OF_TEST_RESULT_BY_REPOSITORY_AND_NUMBER).get<{ outcome: TestRun['outcome'] }>({
        repository: input.repository,
        number,
        suite: test.suite,
        name: test.name,
      })?.outcome
      return outcome ? [{ build: number, outcome }] : []
    })
    const since = failingSince(runs)
    if (!since) continue
    logFound(ctx, writer, {
      ...place,
      idempotencyKey: `failing-test/${input.repository}/${test.suite}/${test.name}/${since.build}`,
      title: `${test.name} fails`,
      description: `The test “${test.name}”${test.suite ? ` of ${test.suite}` : ''} fails in ${since.runs} builds running, since build ${since.build} of ${input.repository}.\n\n\`\`\`\n${test.message.slice(0, 3000)}\n\`\`\``,
      cause: 'test',
      source: `build:${input.repository}/${input.build}`,
      paths: [],
    })
  }
}

const LEVELS_THAT_COUNT = new Set<Finding['level']>(['error', 'warning'])

/**
 * Takes a SARIF log: findings of level error or warning are logged once each, by the tool's own identity of them. Gives how many were read
 * and how many are new.
 */
export function receiveSarif(
  ctx: ServiceContext,
  input: { repository: string; commit: string; json: string },
): { findings: number; logged: number } {
  const place = placeOf(ctx, input.repository)
  if (!place) throw new Problem('not-found', { detail: `No service of a repository ${input.repository} is set up.` })
  let findings: Finding[]
  try {
    findings = readSarif(input.json)
  } catch (error) {
    if (error instanceof ReportFormatError)
      throw new Problem('malformed-body', { detail: `The report was not read: ${error.message}. Nothing was stored.` })
    throw error
  }
  const idOf = (finding: Finding) => `finding/${input.repository}/${finding.tool}/${finding.identity}`
  const fresh = new Map(
    findings
      .filter((finding) => LEVELS_THAT_COUNT.has(finding.level) && !entryByIdempotencyKey(ctx.db, idOf(finding)))
      .map((finding) => [idOf(finding), finding]),
  )
  const chosen = [...fresh].sort(([, a], [, b]) => Number(b.level === 'error') - Number(a.level === 'error')).slice(0, ITEMS_MAX)
  if (chosen.length > 0)
    ctx.journal.write((writer) => {
      for (const [idempotencyKey, finding] of chosen) {
        const at = finding.file === null ? '' : ` in ${finding.file}${finding.line === null ? '' : `:${finding.line}`}`
        logFound(ctx, writer, {
          ...place,
          idempotencyKey,
          title: `${finding.message.split(/[\n.]/, 1)[0]?.trim() || finding.ruleId}`,
          description: `${finding.tool} found ${finding.ruleId}${at}, at commit ${input.commit.slice(0, 12)}:\n\n> ${finding.message.replaceAll('\n', '\n> ')}`,
          cause: 'finding',
          source: `commit:${input.repository}/${input.commit}`,
          paths: finding.file === null ? [] : [finding.file],
        })
      }
    })
  return { findings: findings.length, logged: chosen.length }
}
