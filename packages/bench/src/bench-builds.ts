import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import { makeConfig } from '@dystracer/server/platform/config/config'
import { buildContext } from '@dystracer/server/context'
import { openVolumeDb, type Db } from '@dystracer/server/platform/db/open'
import { sql } from '@dystracer/server/platform/db/statements'
import { startServer } from '@dystracer/server/server'
import { makeToken } from '@dystracer/server/subjects/people/tokens.commands'
import { fillWorld, makeRandom } from './bench-world.js'

type Figures = Record<string, number>
const BUILDS = 400
const TESTS = 5000
const FAILURES = 2000
const CAUSES = 25
const REPORTED = 200_000
const TURNS = 30
const SUITE_TESTS = 50
const HOUR_MS = 3_600_000
const MEGABYTE = 1 << 20

const testName = (at: number) => ({ suite: `suite ${Math.floor(at / SUITE_TESTS)}`, name: `test ${at} holds what it says` })
const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0
const rounded = (ms: number) => Number(ms.toFixed(1))

/** Two million results, straight into the tables: reading is measured. The last build but one broke in many tests for few causes. */
function fillBuilds(db: Db, nowMs: number): void {
  const random = makeRandom(11)
  const build = sql(
    db,
    `INSERT INTO build (repository, number, sha, branch, state, started_at_ms, finished_at_ms, passed, failed, skipped, is_told, is_ended)
      VALUES ('kiln', @number, @sha, 'main', @state, @atMs, @atMs + 60000, @passed, @failed, 0, 1, 1)`,
  )
  const result = sql(
    db,
    `INSERT INTO test_result (repository, build, suite, name, outcome, duration_ms, message, verifies)
      VALUES ('kiln', @build, @suite, @name, @outcome, @durationMs, @message, '[]')`,
  )
  db.transaction(() => {
    for (let number = 1; number <= BUILDS; number++) {
      const failed = number === BUILDS - 1 ? FAILURES : 0
      build.run({
        number,
        sha: number.toString(16).padStart(40, '0'),
        state: failed > 0 ? 'broke' : 'passed',
        atMs: nowMs - (BUILDS - number) * HOUR_MS,
        passed: TESTS - failed,
        failed,
      })
      for (let at = 0; at < TESTS; at++) {
        const isFailed = at < failed
        result.run({
          build: number,
          ...testName(at),
          outcome: isFailed ? 'failed' : random() < 0.0001 ? 'flaky' : 'passed',
          durationMs: 5 + random() * 20,
          message: isFailed ? messageOf(at, at % CAUSES) : '',
        })
      }
    }
  })()
}

function messageOf(at: number, cause: number): string {
  const frames = [`heat${cause} (/b/src/zone${cause}.js:${cause + 3}:5)`, 'Test.run (/b/test/a.test.js:4:1)']
  return [`AssertionError: kiln ${at} is cold`, ...frames.map((frame) => `    at ${frame}`)].join('\n')
}

/** A report of very many cases, as runners write it. */
function largeReport(): string {
  const cases = Array.from({ length: REPORTED }, (_, at) => {
    const { suite, name } = testName(at)
    return `<testcase classname="${suite}" name="${name}" time="0.0${at % 10}"/>`
  })
  return `<?xml version="1.0"?><testsuites><testsuite name="all" tests="${REPORTED}">${cases.join('\n')}</testsuite></testsuites>`
}

/** The same rows, inserted by nothing but SQLite in one transaction. */
function bareInsertMs(db: Db): number {
  db.exec('CREATE TABLE bare (build INTEGER, suite TEXT, name TEXT, outcome TEXT, PRIMARY KEY (build, suite, name)) WITHOUT ROWID')
  const insert = db.prepare('INSERT INTO bare VALUES (?, ?, ?, ?)')
  const startedMs = performance.now()
  db.transaction(() => {
    for (let at = 0; at < REPORTED; at++) {
      const { suite, name } = testName(at)
      insert.run(1, suite, name, 'passed')
    }
  })()
  const tookMs = performance.now() - startedMs
  db.exec('DROP TABLE bare')
  return tookMs
}

/** Builds with millions of results: a report of 200,000 cases, and the panes of a build, a test and a failure, beside bare SQLite. */
export async function benchBuilds(): Promise<Figures> {
  const dataDir = mkdtempSync(join(tmpdir(), 'dystracer-bench-'))
  try {
    const owned = buildContext({ ...makeConfig('real', { DYSTRACER_LOG: 'silent', DYSTRACER_REQUESTS_PER_MINUTE: 0 }), dataDir, port: 0 })
    const { ctx } = owned
    fillWorld(ctx, { items: 100, comments: 0, waiting: 0, notices: 0 })
    ctx.journal.write((writer) => {
      const body = { name: 'kiln', url: '/nowhere/kiln.git', mainBranch: 'main' }
      writer.append({ actor: 'system', subjects: [], kind: 'repository-added', body })
      writer.append({
        actor: 'system',
        subjects: [],
        kind: 'service-added',
        body: { name: 'kiln', project: 'EMB', repository: 'kiln', tagPrefix: 'v' },
      })
    })
    fillBuilds(ctx.db, Date.now())
    const server = await startServer(owned)
    const token = (scope: 'admin' | 'evidence') => makeToken(ctx.db, { name: scope, project: null, scope, nowMs: Date.now() })
    const reader = { authorization: `Bearer ${token('admin')}` }
    const ask = async (path: string) => {
      const startedMs = performance.now()
      const response = await fetch(`http://127.0.0.1:${server.port}/api/v1${path}`, { headers: reader })
      await response.arrayBuffer()
      if (!response.ok) throw new Error(`${path} answered ${response.status}`)
      return performance.now() - startedMs
    }
    const medianOf = async (path: (turn: number) => string) => {
      const tookMs: number[] = []
      for (let turn = 0; turn < TURNS; turn++) tookMs.push(await ask(path(turn)))
      return rounded(median(tookMs))
    }
    const bareBuildMs = () => {
      const startedMs = performance.now()
      JSON.stringify(sql(ctx.db, "SELECT * FROM test_result WHERE repository = 'kiln' AND build = @build").all({ build: BUILDS }))
      return performance.now() - startedMs
    }
    const test = (turn: number) => {
      const { suite, name } = testName(turn * 37)
      return `suite=${encodeURIComponent(suite)}&name=${encodeURIComponent(name)}`
    }
    const figures = {
      results: BUILDS * TESTS,
      buildMs: await medianOf(() => `/builds/kiln/${BUILDS}`),
      buildBareMs: rounded(median(Array.from({ length: TURNS }, bareBuildMs))),
      testRecordMs: await medianOf((turn) => `/test-records/kiln?${test(turn)}`),
      failureGroupsOf2000Ms: await medianOf(() => `/builds/kiln/${BUILDS - 1}/failures`),
      trendMs: await medianOf(() => '/repositories/kiln/trend'),
    }
    const report = largeReport()
    const before = process.memoryUsage().rss
    let most = before
    const watching = setInterval(() => {
      most = Math.max(most, process.memoryUsage().rss)
    }, 20)
    const startedMs = performance.now()
    const sent = await fetch(
      `http://127.0.0.1:${server.port}/receive/reports/junit?repository=kiln&commit=${'a'.repeat(40)}&branch=main&build=${BUILDS + 1}`,
      { method: 'POST', headers: { authorization: `Bearer ${token('evidence')}`, 'content-type': 'application/xml' }, body: report },
    )
    const reportMs = performance.now() - startedMs
    clearInterval(watching)
    if (!sent.ok) throw new Error(`the report was answered ${sent.status}: ${await sent.text()}`)
    await server.stop()
    return {
      ...figures,
      reportOf200000Ms: Math.round(reportMs),
      reportBareInsertMs: Math.round(bareInsertMs(openVolumeDb(join(dataDir, 'bare.db')))),
      reportMemoryMB: Math.round((most - before) / MEGABYTE),
    }
  } finally {
    rmSync(dataDir, { recursive: true, force: true })
  }
}
