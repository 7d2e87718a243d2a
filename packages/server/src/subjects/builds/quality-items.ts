import { hash } from 'node:crypto'
import { failingSince, type TestRun } from '@dystracer/core/builds/failing-tests'
import type { Finding } from '@dystracer/core/builds/reports/report'
import { firstSentence } from '@dystracer/core/builds/reports/sarif'
import { inPieces } from './pieces.js'
import { LIST_KNOWN_FINDINGS } from './receive-report.queries.js'
import { sql } from '#platform/db/statements'
import { entryByIdempotencyKey } from '#platform/journal/journal.queries'
import type { JournalWriter } from '#platform/journal/journal'
import type { ServiceContext } from '#platform/context'
import { archivedProjects } from '#subjects/people/index'
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
  cause: 'test' | 'finding' | 'incident'
  source: string
  paths: string[]
}

const FOUND_BY: Record<NewItem['cause'], string> = { test: 'a failing test', finding: 'a finding', incident: 'an incident' }

/** Logs what a machine found, once; it waits in Triage. Gives its key, also where it was logged before. */
export function logFound(ctx: ServiceContext, writer: JournalWriter, found: NewItem): string {
  const before = entryByIdempotencyKey(ctx.db, found.idempotencyKey)
  if (before) return (before.body as { key: string }).key
  const item = nextItemKey(ctx, found.project)
  writer.append({
    kind: 'item-logged',
    actor: 'system',
    subjects: [`item:${item.key}`],
    cause: FOUND_BY[found.cause],
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
  return item.key
}

/**
 * Where items of a repository go: the project of its service, the component that it belongs to;
 * null where no project is worked in for it.
 */
export function placeOf(ctx: ServiceContext, repository: string): { project: string; component: string | null } | null {
  const project = sql(ctx.db, GET_PROJECT_OF_SERVICE_BY_REPOSITORY).get<{ project: string }>({
    repository,
  })?.project
  if (project === undefined || archivedProjects(ctx.db).includes(project)) return null
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
    `SELECT number FROM build
      WHERE repository = @repository AND branch = @main AND state <> 'running' AND number <= @build
      ORDER BY number DESC LIMIT ${BUILDS_LOOKED_AT}`,
  ).all<{ number: number }>({ ...input, main })
  const failed = sql(
    ctx.db,
    `SELECT suite, name, message FROM test_result
      WHERE repository = @repository AND build = @build AND outcome = 'failed' ORDER BY suite, name LIMIT ${ITEMS_MAX}`,
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
      description:
        `The test “${test.name}”${test.suite ? ` of ${test.suite}` : ''} fails in ${since.runs} builds running, ` +
        `since build ${since.build} of ${input.repository}.\n\n\`\`\`\n${test.message.slice(0, 3000)}\n\`\`\``,
      cause: 'test',
      source: `build:${input.repository}/${input.build}`,
      paths: [],
    })
  }
}

const LEVELS_THAT_COUNT = new Set<Finding['level']>(['error', 'warning'])
/** So many lines of what was gathered stand in the item. */
const GATHERED_LINES_MAX = 200

/**
 * Writes the findings of a commit. Those of level error or warning that were never found before are logged, once each, by the tool's own
 * identity of them; what goes beyond the first of a report is gathered in one more item, so that no flood drowns Triage and nothing is
 * lost. Gives how many items it made, and what the sender should know.
 */
export async function logFindings(
  ctx: ServiceContext,
  input: { repository: string; commit: string; atMs?: number },
  findings: readonly Finding[],
): Promise<{ items: number; notes: string[] }> {
  const { repository, commit: sha } = input
  const place = placeOf(ctx, repository)
  const fresh = place === null ? [] : neverFound(ctx, repository, findings)
  let items = 0
  await inPieces(findings, (piece, isLast) =>
    ctx.journal.write((writer) => {
      const source = `commit:${repository}/${sha}`
      writer.append({
        kind: 'findings-reported',
        actor: 'source:build-service',
        subjects: [source],
        source,
        idempotencyKey: `findings/${repository}/${sha}/${hash('sha256', JSON.stringify(piece), 'base64url')}`,
        ...(input.atMs !== undefined && { atMs: input.atMs }),
        body: { repository, sha, findings: piece },
      })
      if (!isLast || place === null || fresh.length === 0) return
      const worstFirst = fresh.toSorted((a, b) => Number(b.level === 'error') - Number(a.level === 'error'))
      for (const finding of worstFirst.slice(0, ITEMS_MAX)) {
        logFound(ctx, writer, {
          ...place,
          idempotencyKey: `finding/${repository}/${finding.tool}/${finding.identity}`,
          title: firstSentence(finding.message) || finding.ruleId,
          description:
            `${finding.tool} found ${finding.ruleId}${placeText(finding)}, at commit ` +
            `${sha.slice(0, 12)}:\n\n> ${finding.message.replaceAll('\n', '\n> ')}`,
          cause: 'finding',
          source,
          paths: finding.file === null ? [] : [finding.file],
        })
        items++
      }
      const rest = worstFirst.slice(ITEMS_MAX)
      if (rest.length === 0) return
      logFound(ctx, writer, { ...place, ...gathered(rest, { repository, sha }), cause: 'finding', source })
      items++
    }),
  )
  const notes =
    place === null
      ? [`No service of ${repository} is set up in a project that is worked in, so its findings are kept and no item is logged.`]
      : fresh.length > ITEMS_MAX
        ? [
            `${fresh.length} findings are new: ${ITEMS_MAX} are items of their own, the other ` +
              `${fresh.length - ITEMS_MAX} are gathered in one.`,
          ]
        : []
  return { items, notes }
}

/** The findings that count and that no report before this one held. */
function neverFound(ctx: ServiceContext, repository: string, findings: readonly Finding[]): Finding[] {
  const counted = findings.filter(({ level }) => LEVELS_THAT_COUNT.has(level))
  const known = new Set(
    sql(ctx.db, LIST_KNOWN_FINDINGS)
      .all<{ at: number }>({ repository, findings: JSON.stringify(counted.map(({ tool, identity }) => ({ tool, identity }))) })
      .map(({ at }) => at),
  )
  return counted.filter(
    ({ tool, identity }, at) => !known.has(at) && !entryByIdempotencyKey(ctx.db, `finding/${repository}/${tool}/${identity}`),
  )
}

function gathered(rest: readonly Finding[], { repository, sha }: { repository: string; sha: string }) {
  const tools = [...new Set(rest.map(({ tool }) => tool))].join(', ')
  const lines = rest
    .slice(0, GATHERED_LINES_MAX)
    .map(
      (finding) =>
        `| ${cell(finding.ruleId)} | ${cell(finding.file ?? '')}${finding.line === null ? '' : `:${finding.line}`} | ` +
        `${cell(firstSentence(finding.message))} |`,
    )
  const identities = rest.map(({ tool, identity }) => [tool, identity])
  const more = rest.length > lines.length ? `\n\nand ${rest.length - lines.length} more.` : ''
  return {
    idempotencyKey: `findings-gathered/${repository}/${hash('sha256', JSON.stringify(identities), 'base64url')}`,
    title: `${rest.length} further findings of ${tools} in ${repository}`,
    description:
      `Found at commit ${sha.slice(0, 12)}, beside those that are items of their own.\n\n` +
      `| rule | place | what |\n|---|---|---|\n${lines.join('\n')}${more}`,
    paths: [...new Set(rest.flatMap(({ file }) => (file === null ? [] : [file])))].slice(0, ITEMS_MAX),
  }
}

function placeText({ file, line }: Finding): string {
  return file === null ? '' : ` in ${file}${line === null ? '' : `:${line}`}`
}

/** A text as it can stand in a cell of a Markdown table. */
function cell(text: string): string {
  return text.replaceAll('|', '\\|').replaceAll('\n', ' ')
}
