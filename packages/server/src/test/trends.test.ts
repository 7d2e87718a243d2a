import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { connectRepository, exceptionRequest, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

/** How the builds of a main line go, what their tests run, which lines fail in production untested, and the charts that people pin. */
let app: App
let repo: TestRepository
let ines: Ask
let rafe: Ask
let wren: Ask
const shas: string[] = []
const PROBE = (head: string) =>
  `${head}function readCelsius(probe) {\n  const raw = probe.last\n  return raw.celsius\n}\nmodule.exports = { readCelsius }\n`

beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  ;[ines, rafe, wren] = [await app.asks('ines'), await app.asks('rafe'), await app.asks('wren')]
  shas.push(repo.commit('src/probe.js', PROBE(''), 'Read the probe'))
  repo.git('tag', 'v1.0.0')
  shas.push(repo.commit('src/probe.js', PROBE('// Two lines more.\n\n'), 'Say more'))
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  await until('the release is known', async () => (await ines('/releases')).body.services[0]?.releases.length === 1)
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

const send = async (format: string, build: number, raw: string) => {
  const answer = await app.call(`/receive/reports/${format}?repository=kiln&commit=${shas[(build - 1) % 2]}&branch=main&build=${build}`, {
    method: 'POST',
    raw,
    headers: { authorization: `Bearer ${app.token('evidence')}` },
  })
  expect(answer.status).toBe(200)
}
/** `1+` ran, `3-` did not. */
const lcov = (files: Record<string, string[]>) =>
  Object.entries(files)
    .map(
      ([path, lines]) =>
        `SF:${path}\n${lines.map((line) => `DA:${line.slice(0, -1)},${line.endsWith('+') ? 1 : 0}`).join('\n')}\nend_of_record\n`,
    )
    .join('')
const cases = (...outcomes: string[]) =>
  `<testsuite name="probe">${outcomes.map((inner, at) => `<testcase name="t${at}" time="0.1">${inner}</testcase>`).join('')}</testsuite>`
const FAILS = '<failure message="no"/>'

test('a trend tells of each build that ended what was reported, and of what nobody reported nothing', async () => {
  expect((await ines('/repositories/kiln/trend')).body).toEqual({ repository: 'kiln', branch: 'main', builds: [] })
  await send('junit', 1, cases('', '', FAILS))
  await send('junit', 2, cases('', '', '<flakyFailure message="late"/>'))
  await send('lcov', 2, lcov({ 'src/probe.js': ['1+', '2+', '3-'] }))
  await send(
    'sarif',
    2,
    JSON.stringify({
      version: '2.1.0',
      runs: [
        {
          tool: { driver: { name: 'scan' } },
          results: [
            { ruleId: 'A', level: 'error', message: { text: 'a' } },
            { ruleId: 'B', level: 'note', message: { text: 'b' } },
          ],
        },
      ],
    }),
  )
  const { builds } = (await wren('/repositories/kiln/trend')).body
  expect(builds).toMatchObject([
    { number: 1, passed: 2, failed: 1, flaky: 0, covered: null, findings: null },
    { number: 2, passed: 2, failed: 0, flaky: 1, covered: 66.7, findings: { bug: 1, weakness: 0, smell: 1 } },
  ])
  expect((await ines('/repositories/nowhere/trend')).status).toBe(404)
})

test('coverage is held against the build before that measured anything, file by file', async () => {
  expect((await ines('/builds/kiln/2/coverage')).body).toMatchObject({ covered: 2, missed: 1, before: null, files: [{ more: 0 }] })
  await send('lcov', 4, lcov({ 'src/probe.js': ['1+', '2-', '3-', '4+'], 'src/new.js': ['1-'] }))
  expect((await ines('/builds/kiln/4/coverage')).body).toEqual({
    covered: 2,
    missed: 3,
    before: { number: 2, name: '2', covered: 2, missed: 1 },
    files: [
      { path: 'src/probe.js', covered: 2, missed: 2, missedLines: '2-3', more: 1 },
      { path: 'src/new.js', covered: 0, missed: 1, missedLines: '1', more: 1 },
    ],
  })
  expect((await ines('/builds/kiln/99/coverage')).status).toBe(404)
})

test('a line that failed in production and that no test runs is found again where its text stands now', async () => {
  await app.call('/otlp/v1/logs', {
    method: 'POST',
    headers: { authorization: `Bearer ${app.token('intake')}` },
    body: exceptionRequest({
      release: '1.0.0',
      service: 'kiln',
      atMs: app.clock.nowMs,
      type: 'TypeError',
      message: 'raw is undefined',
      place: 'readCelsius (/srv/kiln/src/probe.js:3:14)',
    }),
  })
  await until('it is there', async () => (await ines('/faults')).body.rows.length === 1)
  // At the second commit the line that failed is line 5; build 4 ran line 4 of it, and not lines 2 and 3.
  expect((await ines('/builds/kiln/4/uncovered-failures')).body.rows).toEqual([])
  await send('lcov', 6, lcov({ 'src/probe.js': ['3+', '4+', '5-'] }))
  expect((await ines('/builds/kiln/6/uncovered-failures')).body.rows).toEqual([
    { path: 'src/probe.js', line: 5, source: 'return raw.celsius', fault: 'F-1', title: 'TypeError: raw is undefined' },
  ])
})

test('a project pins charts in their order; nobody loses what they do not see', async () => {
  const put = (ask: Ask, charts: object[]) => ask('/projects/EMB/pinned-charts', { method: 'PUT', body: { charts } })
  const tests = { chart: 'tests', repository: 'kiln' }
  const one = { chart: 'test', repository: 'kiln', suite: 'probe', name: 't0' }
  expect((await ines('/projects/EMB/pinned-charts')).body).toEqual({ charts: [] })
  expect((await put(rafe, [tests, one])).body).toEqual({ charts: [tests, one] })
  expect((await put(rafe, [one, tests])).body).toEqual({ charts: [one, tests] })
  expect((await put(rafe, [tests, tests])).body.fields.charts).toContain('already')
  expect((await put(rafe, [{ chart: 'tests', repository: 'nowhere' }])).body.fields.charts).toContain('nowhere')
  expect((await put(rafe, [{ chart: 'weather', repository: 'kiln' }])).status).toBe(422)
  expect((await put(wren, [])).status).toBe(403)
  expect((await wren('/projects/EMB/pinned-charts')).body.charts).toHaveLength(2)
})
