import { execFile } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import { promisify } from 'node:util'
import { openVolumeDb } from '@dystracer/server/platform/db/open'
import { makeConfig } from '@dystracer/server/platform/config/config'
import { benchBurst, benchFaults } from './bench-faults.js'
import { benchBuilds } from './bench-builds.js'
import { benchCauses } from './causes/bench-causes.js'
import { benchCode } from './bench-code.js'
import { benchPast } from './bench-past.js'
import { benchHistory } from './bench-history.js'
import { benchItems, benchTriage } from './bench-items.js'
import { benchReleases, benchRules } from './bench-rules.js'
import { buildContext } from '@dystracer/server/context'
import { startServer } from '@dystracer/server/server'
import { makeToken } from '@dystracer/server/subjects/people/tokens.commands'

type Figures = Record<string, number>

/** Each runs on data of its own below a temporary folder, beside a bare yardstick in the same run. */
export const benches: Record<string, (options: { commits?: number }) => Promise<Figures>> = {
  intake: benchIntake,
  faults: benchFaults,
  burst: benchBurst,
  items: benchItems,
  triage: benchTriage,
  history: benchHistory,
  builds: benchBuilds,
  code: benchCode,
  past: benchPast,
  rules: benchRules,
  causes: benchCauses,
  releases: benchReleases,
  push: () => inBrowser('bench-push'),
  screens: () => inBrowser('bench-screens'),
}

const REQUESTS = 300
const PER_REQUEST = 100
const ROUNDS = 3

/**
 * OTLP over HTTP, accepted and durable, beside a bare insert of the same rows with the same pragmas in batches of the same size; medians of
 * three rounds, taken in turn.
 */
async function benchIntake(): Promise<Figures> {
  const dataDir = mkdtempSync(join(tmpdir(), 'dystracer-bench-'))
  const ours: number[] = []
  const bare: number[] = []
  try {
    // The bare insert keeps every row: so does the intake here.
    const config = {
      ...makeConfig('real', { DYSTRACER_LOG: 'silent', DYSTRACER_REQUESTS_PER_MINUTE: 0 }),
      dataDir,
      port: 0,
      keepPerMinute: 10_000_000,
    }
    const owned = buildContext(config)
    const server = await startServer(owned)
    const token = makeToken(owned.ctx.db, { name: 'bench', project: null, scope: 'intake', nowMs: Date.now() })
    for (let round = 0; round < ROUNDS; round++) {
      const bodies = Array.from({ length: REQUESTS }, (_, index) => JSON.stringify(makeRequest(round * REQUESTS + index)))
      ours.push(await sendAll(`http://127.0.0.1:${server.port}/otlp/v1/logs`, token, bodies))
      bare.push(await bareInsert(join(dataDir, `bare-${round}.db`)))
    }
    await server.stop()
    const events = REQUESTS * PER_REQUEST
    const perSecond = Math.round(events / median(ours))
    const barePerSecond = Math.round(events / median(bare))
    return {
      events: events * ROUNDS,
      eventsPerSecond: perSecond,
      bareInsertsPerSecond: barePerSecond,
      ratio: Number((perSecond / barePerSecond).toFixed(2)),
    }
  } finally {
    rmSync(dataDir, { recursive: true, force: true })
  }
}

/** Sends all bodies from sixteen senders that wait for their answers; gives the seconds that it took. */
async function sendAll(url: string, token: string, bodies: readonly string[]): Promise<number> {
  const startedMs = performance.now()
  const waiting = bodies.map((_, index) => index)
  const sender = async () => {
    for (let index = waiting.shift(); index !== undefined; index = waiting.shift()) {
      const response = await fetch(url, {
        method: 'POST',
        headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
        body: bodies[index] ?? '',
      })
      if (response.status === 429) waiting.push(index)
      else if (!response.ok) throw new Error(`intake answered ${response.status}`)
      await response.arrayBuffer()
    }
  }
  await Promise.all(Array.from({ length: 16 }, sender))
  return (performance.now() - startedMs) / 1000
}

function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0
}

/** Measured by the browser journeys' own program, since it drives the real page: needs Chromium, which `./dystracer test` installs. */
async function inBrowser(program: string): Promise<Figures> {
  const script = join(import.meta.dirname, `../../../e2e/dist/${program}.js`)
  const { stdout } = await promisify(execFile)(process.execPath, [script], { encoding: 'utf8' })
  return JSON.parse(stdout.trim().split('\n').at(-1) ?? '{}') as Figures
}

function makeRequest(request: number): object {
  const text = (key: string, value: string) => ({ key, value: { stringValue: value } })
  const startMs = Date.now() - 1000
  return {
    resourceLogs: [
      {
        resource: {
          attributes: [text('service.name', 'bench'), text('service.version', '1.0.0'), text('deployment.environment.name', 'production')],
        },
        scopeLogs: [
          {
            logRecords: Array.from({ length: PER_REQUEST }, (_, index) => {
              const number = request * PER_REQUEST + index
              const message = `kiln ${number % 40} at ${number} degrees`
              return {
                timeUnixNano: `${startMs}${String(number % 1_000_000).padStart(6, '0')}`,
                severityNumber: 17,
                body: { stringValue: message },
                attributes: [
                  text('exception.type', 'RangeError'),
                  text('exception.message', message),
                  text('exception.stacktrace', traceOf(number, message)),
                  text('request', String(number)),
                ],
              }
            }),
          },
        ],
      },
    ],
  }
}

/** One in ten traces is new, as when a message carries a number and callers repeat. */
function traceOf(number: number, message: string): string {
  return [
    `RangeError: ${message}`,
    ...Array.from(
      { length: 10 },
      (_, depth) => `    at step${(number + depth) % 30} (/srv/bench/src/part${depth}.js:${10 + depth}:${depth + 3})`,
    ),
  ].join('\n')
}

async function bareInsert(path: string): Promise<number> {
  const db = openVolumeDb(path)
  const insert = db.prepare(`INSERT INTO occurrence (fingerprint, at_ms, received_at_ms, release, environment, severity_number,
      message, trace_digest, resource_digest, attributes, trace_id, record_hash)
    VALUES (@fingerprint, @atMs, @atMs, '1.0.0', 'production', 17, @message, @digest, 'r', @attributes, NULL, @hash)`)
  const attributes = 'x'.repeat(160)
  const startedMs = performance.now()
  for (let request = 0; request < REQUESTS; request++) {
    db.transaction(() => {
      for (let index = 0; index < PER_REQUEST; index++) {
        const number = request * PER_REQUEST + index
        insert.run({
          fingerprint: `f${number % 30}`,
          atMs: number,
          message: `kiln ${number % 40} at ${number} degrees`,
          digest: `d${number}`,
          attributes,
          hash: `${(number * 2654435761) >>> 0}-${number}`,
        })
      }
    }).immediate()
    // Lets the server's timers run, as they would beside a database of their own.
    await new Promise((resolve) => setImmediate(resolve))
  }
  const seconds = (performance.now() - startedMs) / 1000
  db.close()
  return seconds
}
