import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import { openVolumeDb } from '../db/open.js'
import { makeConfig } from '../config/config.js'
import { buildContext } from '../context.js'
import { startServer } from '../server.js'
import { makeToken } from '../services/accounts.service.js'

type Figures = Record<string, number>

/** Each runs on data of its own below a temporary folder, beside a bare yardstick in the same run. */
export const benches: Record<string, () => Promise<Figures>> = { intake: benchIntake }

const REQUESTS = 300
const PER_REQUEST = 100

/** OTLP over HTTP, accepted and durable, beside a bare insert of the same rows with the same pragmas in batches of the same size. */
async function benchIntake(): Promise<Figures> {
  const dataDir = mkdtempSync(join(tmpdir(), 'dystracer-bench-'))
  try {
    const config = { ...makeConfig('real', { DYSTRACER_LOG: 'silent' }), dataDir, port: 0 }
    const owned = buildContext(config)
    const server = await startServer(owned)
    const token = makeToken(owned.ctx.db, { name: 'bench', project: null, scope: 'intake', nowMs: Date.now() })
    const bodies = Array.from({ length: REQUESTS }, (_, index) => JSON.stringify(makeRequest(index)))
    const startedMs = performance.now()
    let next = 0
    const client = async () => {
      for (let index = next++; index < bodies.length; index = next++) {
        const response = await fetch(`http://127.0.0.1:${server.port}/otlp/v1/logs`, {
          method: 'POST',
          headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
          body: bodies[index] ?? '',
        })
        if (response.status === 429) next = Math.min(next, index)
        else if (!response.ok) throw new Error(`intake answered ${response.status}`)
        await response.arrayBuffer()
      }
    }
    await Promise.all(Array.from({ length: 8 }, client))
    const seconds = (performance.now() - startedMs) / 1000
    await server.stop()
    const bareSeconds = bareInsert(join(dataDir, 'bare.db'))
    const events = REQUESTS * PER_REQUEST
    const perSecond = Math.round(events / seconds)
    const barePerSecond = Math.round(events / bareSeconds)
    return { events, eventsPerSecond: perSecond, bareInsertsPerSecond: barePerSecond, ratio: Number((perSecond / barePerSecond).toFixed(2)) }
  } finally {
    rmSync(dataDir, { recursive: true, force: true })
  }
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
    ...Array.from({ length: 10 }, (_, depth) => `    at step${(number + depth) % 30} (/srv/bench/src/part${depth}.js:${10 + depth}:${depth + 3})`),
  ].join('\n')
}

function bareInsert(path: string): number {
  const db = openVolumeDb(path)
  const insert =
    db.prepare(`INSERT INTO occurrence (fingerprint, at_ms, received_at_ms, release, environment, severity_number, message, trace_digest, resource_digest, attributes, trace_id, record_hash)
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
  }
  const seconds = (performance.now() - startedMs) / 1000
  db.close()
  return seconds
}
