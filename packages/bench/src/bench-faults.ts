import { type Who, STRANGER } from '@dystracer/core/people/who'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import { Worker } from 'node:worker_threads'
import { readTrace } from '@dystracer/core/traces/read-trace'
import { groupTrace } from '@dystracer/core/traces/grouping'
import { makeConfig } from '@dystracer/server/platform/config/config'
import { buildContext } from '@dystracer/server/context'
import { openVolumeDb } from '@dystracer/server/platform/db/open'
import { startServer } from '@dystracer/server/server'
import type { SenderData } from './bench-sender.js'
import { makeToken } from '@dystracer/server/subjects/people/tokens.commands'
import { listFaults, readFault } from '@dystracer/server/subjects/faults/faults.views'
import { listOccurrences } from '@dystracer/server/subjects/faults/occurrences.views'

/** A token that reads everything. */
const READER: Who = { ...STRANGER, everywhere: 'reader' }

type Figures = Record<string, number>
const OCCURRENCES = 10_000_000
const GROUPS = 2_000
const PER_SECOND = 2_000
const SECONDS = 10
const BURST_SECONDS = 600
const SORTS = ['last', 'first', 'times', 'people'] as const

/**
 * Faults under load: traces read and grouped a second on one core; the latency of single records at 2,000 requests a second and what the
 * server's memory grows by meanwhile; then the list, a fault with
 * its chart and its newest occurrences at 10 million occurrences, beside the bare rows by the same indices.
 */
export async function benchFaults(): Promise<Figures> {
  return { ...benchReading(), ...(await benchLatency()), ...(await benchViews()) }
}

function benchReading(): Figures {
  const traces = Array.from({ length: 500 }, (_, at) => ({
    text:
      `RangeError: kiln ` +
      `${at} at ${at * 7} degrees\n${Array.from(
        { length: 12 },
        (_line, depth) => `    at step${(at + depth) % 40} (/srv/bench-4.1.3/src/part${depth}.js:${10 + depth}:${depth + 3})`,
      ).join('\n')}`,
    message: `kiln ${at} at ${at * 7} degrees`,
  }))
  const startedMs = performance.now()
  let count = 0
  while (performance.now() - startedMs < 2000)
    for (const { text, message } of traces) {
      groupTrace(readTrace(text, { type: 'RangeError', message, runtime: 'nodejs' }))
      count++
    }
  return { tracesPerSecondOneCore: Math.round(count / ((performance.now() - startedMs) / 1000)) }
}

async function inFolder<Result>(run: (dataDir: string) => Promise<Result>): Promise<Result> {
  const dataDir = mkdtempSync(join(tmpdir(), 'dystracer-bench-'))
  try {
    return await run(dataDir)
  } finally {
    rmSync(dataDir, { recursive: true, force: true })
  }
}

/** Ten minutes of single records without a pause: what the server's memory is after one and after ten, and at most. */
export async function benchBurst(): Promise<Figures> {
  const samples: number[] = []
  const figures = await underLoad(BURST_SECONDS, (rssMb) => samples.push(rssMb))
  const perMinute = samples.length / (BURST_SECONDS / 60)
  return {
    ...figures,
    minutes: BURST_SECONDS / 60,
    memoryAfterOneMb: samples[Math.floor(perMinute)] ?? 0,
    memoryAtEndMb: samples.at(-1) ?? 0,
    memoryMostMb: Math.max(...samples),
  }
}

async function benchLatency(): Promise<Figures> {
  const samples: number[] = []
  const figures = await underLoad(SECONDS, (rssMb) => samples.push(rssMb))
  return { ...figures, memoryGrowthMb: Math.max(...samples) - (samples[0] ?? 0) }
}

/** Single records at a steady rate from a thread of its own; `watch` is told the memory of the process ten times a second. */
function underLoad(seconds: number, watch: (rssMb: number) => void): Promise<Figures> {
  return inFolder(async (dataDir) => {
    const owned = buildContext({ ...makeConfig('real', { DYSTRACER_LOG: 'silent', DYSTRACER_REQUESTS_PER_MINUTE: 0 }), dataDir, port: 0 })
    const server = await startServer(owned)
    const headers = {
      authorization: `Bearer ${makeToken(owned.ctx.db, { name: 'bench', project: null, scope: 'intake', nowMs: Date.now() })}`,
      'content-type': 'application/json',
    }
    const look = () => watch(Math.round(process.memoryUsage().rss / (1 << 20)))
    look()
    const timer = setInterval(look, 100)
    const workerData: SenderData = {
      url: `http://127.0.0.1:${server.port}/otlp/v1/logs`,
      headers,
      template: oneRecord(),
      count: PER_SECOND * seconds,
      perSecond: PER_SECOND,
    }
    const sender = new Worker(new URL('./bench-sender.js', import.meta.url), { workerData })
    const { tookMs, refused } = await new Promise<{ tookMs: number[]; refused: number }>((resolve, reject) => {
      sender.once('message', resolve)
      sender.once('error', reject)
    })
    clearInterval(timer)
    const counted = owned.ctx.volume.prepare<[], { count: number }>('SELECT sum(count) AS count FROM fault_group').get()?.count ?? 0
    await server.stop()
    return {
      requestsPerSecond: PER_SECOND,
      answered: tookMs.length,
      counted,
      answeredMedianMs: at(tookMs, 0.5),
      answeredP95Ms: at(tookMs, 0.95),
      askedToComeAgain: refused,
    }
  })
}

function oneRecord(): string {
  const text = (key: string, value: string) => ({ key, value: { stringValue: value } })
  const message = 'kiln 7 at @number@ degrees'
  return JSON.stringify({
    resourceLogs: [
      {
        resource: {
          attributes: [text('service.name', 'bench'), text('service.version', '1.0.0'), text('deployment.environment.name', 'production')],
        },
        scopeLogs: [
          {
            logRecords: [
              {
                timeUnixNano: `${Date.now()}000000`,
                severityNumber: 17,
                body: { stringValue: message },
                attributes: [
                  text('exception.type', 'RangeError'),
                  text('exception.message', message),
                  text('exception.stacktrace', `RangeError: ${message}\n    at step@fault@ (/srv/bench/src/part.js:13:3)`),
                ],
              },
            ],
          },
        ],
      },
    ],
  })
}

function benchViews(): Promise<Figures> {
  return inFolder(async (dataDir) => {
    const { ctx, close } = buildContext({
      ...makeConfig('real', { DYSTRACER_LOG: 'silent', DYSTRACER_REQUESTS_PER_MINUTE: 0 }),
      dataDir,
      port: 0,
    })
    ctx.journal.write((writer) => {
      for (let number = 1; number <= GROUPS; number++)
        writer.append({
          kind: 'fault-found',
          actor: 'service:bench',
          subjects: [],
          body: {
            number,
            fingerprint: `g${number}`,
            service: 'bench',
            type: 'RangeError',
            message: `kiln ${number} is too hot`,
            maskedMessage: 'kiln <number> is too hot',
            place: `step${number}@part.js`,
            reason: { basis: 'app-frame', frame: `step${number}@part.js`, maskedValues: 1 },
            traceDigest: 't',
          },
        })
    })
    fillVolume(join(dataDir, 'occurrences.db'), ctx.nowMs())
    const list: number[] = []
    for (const sort of SORTS) list.push(await median(() => listFaults(ctx, READER, { q: '', limit: 60, sort })))
    const words = await median(() => listFaults(ctx, READER, { q: 'kiln 77', limit: 60, sort: 'last' }))
    const fault = await median(() => readFault(ctx, 'F-7'))
    const newest = await median(() => listOccurrences(ctx, 'F-7', { limit: 20 }))
    const bare = await median(() =>
      ctx.volume.prepare('SELECT fingerprint, last_at_ms, count FROM fault_group ORDER BY last_at_ms DESC LIMIT 60').all(),
    )
    await close()
    return {
      occurrences: OCCURRENCES,
      faults: GROUPS,
      listByLastMs: round(list[0]),
      listSlowestOrderMs: round(Math.max(...list)),
      listByWordsMs: round(words),
      faultWithChartMs: round(fault),
      newestOccurrencesMs: round(newest),
      bareListMs: round(bare),
    }
  })
}

/** Ten million occurrences with their counters, straight into the tables: reading needs the rows, not their way in. */
function fillVolume(path: string, nowMs: number): void {
  const db = openVolumeDb(path)
  db.pragma('synchronous = OFF')
  db.exec(`INSERT INTO trace (digest, stacktrace, is_head_cut)
    VALUES ('t', 'RangeError: hot' || char(10) || '    at step (/srv/bench/src/part.js:3:1)', 0);
    INSERT INTO resource (digest, attributes) VALUES ('r', '{"service.name":"bench"}');`)
  const insert = db.prepare(`WITH RECURSIVE n(i) AS (SELECT CAST(@from AS INTEGER) UNION ALL SELECT i + 1 FROM n WHERE i + 1 < @to)
    INSERT INTO occurrence (fingerprint, at_ms, received_at_ms, release, environment, severity_number, message,
      trace_digest, resource_digest, attributes, trace_id, record_hash)
    SELECT 'g' || (i % ${GROUPS} + 1), CAST(@nowMs AS INTEGER) - i * 100, CAST(@nowMs AS INTEGER) - i * 100,
      '1.0.' || (i % 5), 'production', 17, 'kiln is too hot', 't', 'r', '{"exception.type":"RangeError"}', NULL,
      printf('%012d', i) FROM n`)
  for (let from = 0; from < OCCURRENCES; from += 500_000) db.transaction(() => insert.run({ from, to: from + 500_000, nowMs }))()
  db.exec(`INSERT INTO fault_group (fingerprint, service, grouping, trace_digest, first_at_ms, last_at_ms, count, severity_number)
      SELECT fingerprint, 'bench', '{"reason":{"basis":"app-frame","frame":"step@part.js","maskedValues":1}}', 't',
        min(at_ms), max(at_ms), count(*), 17 FROM occurrence GROUP BY fingerprint;
    INSERT INTO fault_release (fingerprint, release, environment, first_at_ms, last_at_ms, count)
      SELECT fingerprint, release, environment, min(at_ms), max(at_ms), count(*) FROM occurrence GROUP BY fingerprint, release, environment;
    INSERT INTO fault_minute (fingerprint, minute, environment, count)
      SELECT fingerprint, at_ms / 60000, environment, count(*) FROM occurrence GROUP BY 1, 2, 3;
    INSERT INTO fault_day (fingerprint, day, count) SELECT fingerprint, minute / 1440, sum(count) FROM fault_minute GROUP BY 1, 2;
    ANALYZE`)
  db.close()
}

async function median(act: () => unknown): Promise<number> {
  const tookMs: number[] = []
  for (let turn = 0; turn < 9; turn++) {
    const startedMs = performance.now()
    await act()
    tookMs.push(performance.now() - startedMs)
  }
  return tookMs.sort((a, b) => a - b)[4] ?? 0
}
const round = (value = 0): number => Number(value.toFixed(1))
function at(values: readonly number[], share: number): number {
  return round([...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * share))])
}
