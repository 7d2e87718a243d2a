import { readFileSync } from 'node:fs'
import { guessReportFormat, REPORT_FORMATS, REPORT_MEDIA, type ReportFormat } from '@dystracer/core/builds/report-format'
import { zTakenReport } from '@dystracer/core/incoming/wire'
import { needed, readCheckout, type Checkout } from '../checkout.js'
import { sendEvent } from '../events.js'
import { Refusal } from '../refusal.js'
import { send, serverSettings, type ServerSettings } from '../server.js'
import type { Surroundings } from '../surroundings.js'

/** What `dys report` is told on its command line. */
export interface ReportOptions {
  url?: string
  token?: string
  repository?: string
  commit?: string
  branch?: string
  build: string
  format?: string
  started?: true
  ended?: string
}

/** The build that is spoken of. */
export interface Build {
  repository: string
  commit: string
  branch: string
  build: string
}

/**
 * Reports of a build: that it started, its files, that it ended, in this order, so that one call can say all. Gives one line for each.
 * Throws a `Refusal` for a wrong call, and for the first thing that the server refuses.
 */
export async function report(files: readonly string[], options: ReportOptions, { env, cwd, say }: Surroundings): Promise<void> {
  if (files.length === 0 && !options.started && options.ended === undefined)
    throw new Refusal('Name at least one report, or say --started or --ended passed.', { exitCode: 2 })
  if (options.ended !== undefined && options.ended !== 'passed' && options.ended !== 'broke')
    throw new Refusal(`--ended is "passed" or "broke", not "${options.ended}".`, { exitCode: 2 })
  const server = serverSettings(options, env)
  const build = buildOf(options, readCheckout(cwd))
  const reports = files.map((file) => readReport(file, options.format))
  if (options.started) {
    await tellBuild(server, build, { predicate: 'started' })
    say(`${build.repository}/${build.build} started.`)
  }
  for (const one of reports) say(await sendReport(server, build, one))
  if (options.ended !== undefined) {
    await tellBuild(server, build, { predicate: 'finished', outcome: options.ended })
    say(`${build.repository}/${build.build} ended: ${options.ended}.`)
  }
}

/** A report as it was read. */
export interface ReadReport {
  file: string
  format: ReportFormat
  text: string
}

/** Sends a report of a build; gives a line that says what became of it. Throws a `Refusal`. */
export async function sendReport(server: ServerSettings, build: Build, { file, format, text }: ReadReport): Promise<string> {
  const query = new URLSearchParams({ repository: build.repository, commit: build.commit, build: build.build, branch: build.branch })
  const answer = await send(server, { path: `/receive/reports/${format}?${query}`, contentType: REPORT_MEDIA[format][0], body: text })
  return `${file}: ${wordsOf(format, answer)}`
}

/** The server's answer to a report, as a line for people. */
function wordsOf(format: ReportFormat, answer: string): string {
  const { kind, results, logged, notes } = zTakenReport.parse(JSON.parse(answer))
  const what = { tests: 'cases', coverage: 'files', findings: 'findings' }[kind]
  const made = logged ? `, ${logged} ${logged === 1 ? 'item' : 'items'} logged` : ''
  return [`${results} ${what} taken as ${format}${made}.`, ...notes].join(' ')
}

/** The build that the options name; what they leave out is read from git. Throws a `Refusal` for what neither tells. */
export function buildOf(options: Pick<ReportOptions, 'repository' | 'commit' | 'branch' | 'build'>, checkout: Checkout): Build {
  return {
    repository: needed(options.repository ?? checkout.repository, '--repository', 'the repository'),
    commit: needed(options.commit ?? checkout.commit, '--commit', 'the commit'),
    branch: options.branch ?? checkout.branch ?? '',
    build: options.build,
  }
}

/** Reads a report, in the format that is said or that it begins like. Throws a `Refusal`. */
export function readReport(file: string, asked: string | undefined): ReadReport {
  let text: string
  try {
    text = readFileSync(file, 'utf8')
  } catch (error) {
    throw new Refusal(`${file} cannot be read: ${(error as Error).message}`, { exitCode: 2 })
  }
  const format = asked === undefined ? guessReportFormat(text) : REPORT_FORMATS.find((name) => name === asked)
  if (!format)
    throw new Refusal(
      asked === undefined
        ? `${file}: what format it is in cannot be told from how it begins; say --format ${REPORT_FORMATS.join('|')}.`
        : `"${asked}" is no format; --format is one of ${REPORT_FORMATS.join(', ')}.`,
      { exitCode: 2 },
    )
  return { file, format, text }
}

/** What is said of a build; `step` names one of its steps, `parent` the step that this is a part of. */
interface ToldOfBuild {
  predicate: 'started' | 'finished'
  outcome?: 'passed' | 'broke' | 'stopped' | undefined
  step?: string | undefined
  parent?: string | undefined
}
/** CDEvents' own words. */
const OUTCOME_WORDS = { passed: 'success', broke: 'failure', stopped: 'cancel' }

/** Says that a build, or a step of it that is named, started or ended. */
export async function tellBuild(server: ServerSettings, build: Build, { predicate, outcome, step, parent }: ToldOfBuild): Promise<void> {
  const isWhole = step === undefined
  await sendEvent(server, {
    type: `dev.cdevents.${isWhole ? 'pipelinerun' : 'taskrun'}.${predicate}.0.2.0`,
    source: `/${build.repository}`,
    subjectId: isWhole ? `${build.repository}/${build.build}` : `${build.build}/${step}`,
    content: {
      ...(isWhole ? { pipelineName: build.repository } : { taskName: step, pipelineRun: { id: build.build } }),
      ...(outcome !== undefined && { outcome: OUTCOME_WORDS[outcome] }),
    },
    customData: {
      repository: build.repository,
      build: build.build,
      commit: build.commit,
      branch: build.branch,
      ...(parent !== undefined && { parent: `${build.build}/${parent}` }),
    },
  })
}
