import { spawnSync } from 'node:child_process'
import { cpSync, existsSync, mkdirSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { makeConfig, type Config } from '#platform/config/config'
import { buildContext, type OwnedContext } from '#context'
import { startServer, type RunningServer } from '#server'
import { setPassword } from '#subjects/people/passwords'
import { makeToken, type TokenDraft } from '#subjects/people/tokens.commands'
import { callAsDescribed } from './described-calls.js'
import type { Scope } from '@dystracer/core/people/who'
import type { Replacement, ServiceContext } from '#platform/context'

export const PEOPLE = {
  ines: { name: 'Ines Okafor', role: 'lead' },
  rafe: { name: 'Rafe Varga', role: 'member' },
  wren: { name: 'Wren Abara', role: 'reader' },
  teo: { name: 'Teo Marsh', role: 'admin' },
} as const
export type PersonName = keyof typeof PEOPLE

export interface Answer {
  status: number
  headers: Headers
  // biome-ignore lint/suspicious/noExplicitAny: tests read whatever came back and assert on it
  body: any
  text: string
}
export interface Asked {
  method?: string
  body?: unknown
  raw?: string | Uint8Array
  headers?: Record<string, string>
}
/** The real application over a fresh data folder, spoken to over HTTP; the clock is the test's. */
export interface App {
  dataDir: string
  url: string
  ctx: ServiceContext
  server: RunningServer
  clock: { nowMs: number }
  log: string[]
  /** A new token of all projects, or held to what is said. */
  token(scope: Scope, limits?: Partial<TokenDraft>): string
  call(path: string, asked?: Asked): Promise<Answer>
  /** The same as a signed-in person, CSRF token and all. */
  as(person: PersonName): Promise<(path: string, asked?: Asked) => Promise<Answer>>
  /** The same, below the paths of the API. */
  asks(person: PersonName): Promise<Ask>
  stop(): Promise<void>
}
export type Ask = (path: string, asked?: Asked) => Promise<Answer>
const PASSWORD = 'long enough to pass'

export interface AppOptions {
  config?: Partial<Config>
  replacements?: Replacement[]
  dataDir?: string
  /** Where the test's clock stands at the beginning. */
  nowMs?: number
}

export async function startApp({
  config = {},
  replacements = [],
  dataDir = mkdtempSync(join(tmpdir(), 'dystracer-test-')),
  nowMs,
}: AppOptions = {}): Promise<App> {
  // A clock that the test sets is that of the set-up, too.
  if (nowMs === undefined && !existsSync(join(dataDir, 'dystracer.db'))) await copySetUp(dataDir)
  const clock = { nowMs: nowMs ?? Date.now() }
  const full: Config = { ...configOf(dataDir), ...config }
  const owned: OwnedContext = buildContext(full, { nowMs: () => clock.nowMs, replacements })
  const { ctx } = owned
  if (ctx.journal.isEmpty()) await setUp(ctx)
  const server = await startServer(owned)
  const url = `http://127.0.0.1:${server.port}`
  const call = async (path: string, { method = 'GET', body, raw, headers = {} }: Asked = {}): Promise<Answer> => {
    const response = await callAsDescribed(url, { path, method, headers, body, raw })
    const text = await response.text()
    const isJson = /json(?!l)/.test(response.headers.get('content-type') ?? '')
    return { status: response.status, headers: response.headers, text, body: isJson && text ? JSON.parse(text) : text }
  }
  const as: App['as'] = async (person) => {
    const answer = await call('/api/v1/session', { method: 'POST', body: { email: `${person}@emberwick.example`, password: PASSWORD } })
    const cookie = answer.headers.get('set-cookie')?.split(';')[0] ?? ''
    const csrf = String(answer.body.csrfToken)
    return (path, asked = {}) => call(path, { ...asked, headers: { cookie, 'x-dystracer-csrf': csrf, ...asked.headers } })
  }
  return {
    dataDir,
    url,
    ctx,
    server,
    clock,
    log: [],
    call,
    token: (scope, limits = {}) => makeToken(ctx.db, { name: `test ${scope}`, project: null, scope, nowMs: clock.nowMs, ...limits }),
    as,
    asks: async (person) => {
      const ask = await as(person)
      return (path, asked) => ask(`/api/v1${path}`, asked)
    },
    stop: async () => {
      await server.stop()
      if (dataDir.startsWith(tmpdir())) rmSync(dataDir, { recursive: true, force: true })
    },
  }
}

/** Where a run of tests keeps what all of them begin with; made and removed by Jest's global set-up. */
const SHARED = process.env.DYSTRACER_TEST_SHARED

/**
 * Copies a data folder that is set up. To migrate and set up a new one takes half a second, which hundreds of applications would spend
 * again: whichever test needs it first makes it, for all workers of the run.
 */
async function copySetUp(dataDir: string): Promise<void> {
  if (SHARED === undefined) return
  const ready = join(SHARED, 'set-up')
  if (!existsSync(ready)) {
    const making = mkdtempSync(join(SHARED, 'making-'))
    const { ctx, close } = buildContext(configOf(making))
    await setUp(ctx)
    await close()
    try {
      renameSync(making, ready)
    } catch {
      // Another worker was quicker: its folder is as good.
      rmSync(making, { recursive: true, force: true })
    }
  }
  cpSync(ready, dataDir, { recursive: true })
}

function configOf(dataDir: string): Config {
  return {
    ...makeConfig('real', { DYSTRACER_LOG: 'silent', DYSTRACER_REQUESTS_PER_MINUTE: 0 }),
    dataDir,
    port: 0,
    judgeIntervalMs: 3_600_000,
    pollIntervalMs: 3_600_000,
    answersThatDoNotFit: 'throw',
    threadsStart: 'on-first-use',
    allowedHosts: ['127.0.0.1'],
  }
}

async function setUp(ctx: ServiceContext): Promise<void> {
  ctx.journal.write((writer) => {
    const add: typeof writer.append = (draft) => writer.append(draft)
    const system = { actor: 'system', subjects: [] as string[] }
    add({
      ...system,
      kind: 'project-created',
      body: { prefix: 'EMB', name: 'Emberwick', silenceMs: 60_000, requirementPrefixes: ['SAF', 'PLN'] },
    })
    for (const [personId, { name, role }] of Object.entries(PEOPLE)) {
      const initials = name.replace(/[^A-Z]/g, '')
      add({ ...system, kind: 'person-added', body: { personId, name, initials, email: `${personId}@emberwick.example` } })
      add({ ...system, kind: 'role-given', body: { project: 'EMB', personId, role } })
    }
    add({
      ...system,
      kind: 'component-added',
      body: { project: 'EMB', name: 'Kiln control', keeperId: 'rafe', repository: 'kiln', pathPrefix: null },
    })
    for (const [index, [key, title, text]] of [
      ['SAF-1', 'Safe firing', 'Firings shall be safe.'],
      ['SAF-3', 'Sensor faults', 'An open thermocouple shall be recognised within 10 s.'],
    ].entries())
      add({
        ...system,
        kind: 'requirement-written',
        subjects: [`requirement:${key}`],
        body: {
          key: key ?? '',
          title: title ?? '',
          text: text ?? '',
          parent: index === 0 ? null : 'SAF-1',
          isHeading: index === 0,
          revision: 1,
          position: index,
        },
      })
    add({ ...system, kind: 'service-added', body: { name: 'kiln', project: 'EMB', repository: 'kiln', tagPrefix: 'v' } })
    add({ ...system, kind: 'environment-added', body: { name: 'staging', kind: 'staging', needsApproval: false, position: 1 } })
    add({ ...system, kind: 'environment-added', body: { name: 'production', kind: 'production', needsApproval: true, position: 2 } })
    add({
      ...system,
      kind: 'rule-added',
      body: {
        ruleId: 'live-faults',
        project: 'EMB',
        name: 'live faults',
        environmentKind: 'production',
        severityAtLeast: 'error',
        countAtLeast: 5,
        windowMs: 600_000,
      },
    })
  })
  for (const personId of Object.keys(PEOPLE)) await setPassword(ctx, personId, PASSWORD)
}

/** Connects a repository of this machine to the project. */
export function connectRepository(app: App, name: string, dir: string): void {
  app.ctx.journal.write((writer) => {
    writer.append({
      kind: 'repository-added',
      actor: 'system',
      subjects: [`repository:${name}`],
      body: { name, url: `file://${dir}`, mainBranch: 'main' },
    })
  })
}

/** A real repository with a work tree, and any git command in it. */
export class TestRepository {
  readonly dir = mkdtempSync(join(tmpdir(), 'dystracer-repo-'))
  #tick = 0

  constructor() {
    this.git('init', '--quiet', '--initial-branch=main')
  }

  git(...args: string[]): string {
    const date = `${1_790_000_000 + this.#tick++ * 60} +0000`
    const { status, stdout, stderr } = spawnSync('git', args, {
      cwd: this.dir,
      encoding: 'utf8',
      env: {
        PATH: process.env.PATH,
        HOME: this.dir,
        GIT_CONFIG_NOSYSTEM: '1',
        GIT_CONFIG_GLOBAL: '/dev/null',
        GIT_AUTHOR_NAME: 'Ines Okafor',
        GIT_AUTHOR_EMAIL: 'ines@emberwick.example',
        GIT_COMMITTER_NAME: 'Ines Okafor',
        GIT_COMMITTER_EMAIL: 'ines@emberwick.example',
        GIT_AUTHOR_DATE: date,
        GIT_COMMITTER_DATE: date,
      },
    })
    if (status !== 0) throw new Error(`git ${args.join(' ')}: ${stderr}`)
    return stdout.trim()
  }

  /** Writes a file and commits it; gives the hash. */
  commit(path: string, content: string, message: string): string {
    mkdirSync(dirname(join(this.dir, path)), { recursive: true })
    writeFileSync(join(this.dir, path), content)
    this.git('add', '--all')
    this.git('commit', '--quiet', '-m', message)
    return this.git('rev-parse', 'HEAD')
  }

  remove(): void {
    rmSync(this.dir, { recursive: true, force: true })
  }
}

/** One OTLP log record with an exception, as an SDK sends it. */
export function exceptionRequest(input: {
  service?: string
  release?: string
  environment?: string
  atMs: number
  message?: string
  type?: string
  place?: string
  count?: number
  severityNumber?: number
  person?: string
}): object {
  const {
    service = 'kiln',
    release = '1.0.0',
    environment = 'production',
    atMs,
    message = 'no reading',
    type = 'TypeError',
    count = 1,
  } = input
  const text = (key: string, value: string) => ({ key, value: { stringValue: value } })
  const place = input.place ?? 'readCelsius (/srv/kiln/src/probe.js:5:31)'
  return {
    resourceLogs: [
      {
        resource: {
          attributes: [text('service.name', service), text('service.version', release), text('deployment.environment.name', environment)],
        },
        scopeLogs: [
          {
            logRecords: Array.from({ length: count }, (_, index) => ({
              timeUnixNano: `${atMs + index}000000`,
              severityNumber: input.severityNumber ?? 17,
              body: { stringValue: message },
              attributes: [
                text('exception.type', type),
                text('exception.message', message),
                text(
                  'exception.stacktrace',
                  `${type}: ${message}\n    at ${place}\n    at main (/srv/kiln/src/main.js:9:3)\n    at node:internal/timers:1:1`,
                ),
                text('user.id', input.person ?? `member-${index}`),
              ],
            })),
          },
        ],
      },
    ],
  }
}

/** A CDEvents message from outside in a CloudEvent, with what `customData` adds. */
export function cloudEvent(type: string, id: string, customData: object, atMs: number): object {
  const timestamp = new Date(atMs).toISOString()
  return {
    specversion: '1.0',
    id,
    source: '/outside',
    type,
    time: timestamp,
    datacontenttype: 'application/json',
    data: { context: { version: '0.4.1', id, source: '/outside', type, timestamp }, subject: { id, content: {} }, customData },
  }
}

/** Waits until a condition holds; fails with its name after ten seconds. */
export async function until(what: string, holds: () => boolean | Promise<boolean>, timeoutMs = 10_000): Promise<void> {
  const endMs = Date.now() + timeoutMs
  while (!(await holds())) {
    if (Date.now() > endMs) throw new Error(`never came true: ${what}`)
    await new Promise((resolve) => setTimeout(resolve, 15))
  }
}
