import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { connectRepository, startApp, TestRepository, type App, type Ask } from './app-harness.js'

/** A main line that breaks: what broke is told by cause, with the commit between the last good build and the first bad one. */
let app: App
let repo: TestRepository
let ines: Ask
let rafe: Ask
const shas: string[] = []
const PROBE = (body: string) =>
  `function readCelsius(probe) {\n  const raw = probe.read()\n  return ${body}\n}\nmodule.exports = { readCelsius }\n`

beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  shas.push(repo.commit('src/probe.js', PROBE('raw.value'), 'Begin'))
  shas.push(repo.commit('src/panel.js', 'exports.line = (text) => text\n', 'Begin the panel'))
  shas.push(repo.commit('src/probe.js', PROBE('raw.celsius'), 'Read the probe in Celsius\n\nRefs: EMB-1'))
  shas.push(repo.commit('README.md', 'Kiln\n', 'Begin a readme'))
  ;[ines, rafe] = [await app.asks('ines'), await app.asks('rafe')]
  await ines('/items', { method: 'POST', body: { title: 'Probe reads volts' } })
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  const fails = (name: string, message: string) =>
    `<testcase name="${name}"><failure message="${message}">${message}\n    at readCelsius (/b/kiln/src/probe.js:3:14)\n` +
    `    at Test.run (/b/kiln/test/probe.test.js:4:1)</failure></testcase>`
  const well = '<testcase name="SAF-3 reads"/><testcase name="holds"/><testcase name="mail goes out"/>'
  await report(11, shas[0] as string, well)
  await report(12, shas[1] as string, well)
  const broken = `${fails('SAF-3 reads', 'AssertionError: NaN is not 21')}${fails(
    'holds',
    'AssertionError: NaN is not 600',
  )}<testcase name="panel"><failure message="Error: no panel"/></testcase>`
  await report(13, shas[3] as string, `${broken}<testcase name="mail goes out"><flakyFailure message="late"/></testcase>`)
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

async function report(build: number, sha: string, cases: string): Promise<void> {
  app.clock.nowMs += 60_000
  const answer = await app.call(`/receive/reports/junit?repository=kiln&commit=${sha}&branch=main&build=${build}`, {
    method: 'POST',
    raw: `<testsuite name="probe">${cases}</testsuite>`,
    headers: { authorization: `Bearer ${app.token('evidence')}` },
  })
  expect(answer.status).toBe(200)
}
const failures = async (ask = ines) => (await ask('/builds/kiln/13/failures')).body
const TEST = { suite: 'probe', name: 'SAF-3 reads' }

test('failures at one place are one group, with since when, the likely commit and its items; the rest stands alone', async () => {
  const { groups, flaky } = await failures()
  expect(groups.map(({ tests }: { tests: { name: string }[] }) => tests.map(({ name }) => name))).toEqual([
    ['SAF-3 reads', 'holds'],
    ['panel'],
  ])
  expect(groups[0]).toMatchObject({
    place: { function: 'readCelsius', file: 'src/probe.js', line: 3 },
    since: { number: 13, name: '13', passedBefore: 2 },
    strip: [{ outcome: 'passed' }, { outcome: 'passed' }, { outcome: 'failed' }],
    onIt: null,
  })
  expect(groups[0].suspects[0]).toMatchObject({
    sha: shas[2],
    subject: 'Read the probe in Celsius',
    items: ['EMB-1'],
    reasons: expect.arrayContaining(['wrote-the-line']),
  })
  expect(groups[1].since).toMatchObject({ number: 13, passedBefore: 0 })
  expect(flaky).toMatchObject([{ name: 'mail goes out', strip: [{ outcome: 'passed' }, { outcome: 'passed' }, { outcome: 'flaky' }] }])
})

test('somebody is on it until it passes, or until they are not any more', async () => {
  const take = (ask: Ask, isOn: boolean) =>
    ask('/builds/kiln/13/failures/taking', { method: 'POST', body: { ...TEST, isOn, note: 'looking' } })
  expect((await take(rafe, true)).body.groups[0].onIt).toMatchObject({ personId: 'rafe', note: 'looking' })
  expect((await take(rafe, false)).body.groups[0].onIt).toBeNull()
  await take(rafe, true)
  await report(14, shas[3] as string, '<testcase name="SAF-3 reads"/>')
  await report(15, shas[3] as string, '<testcase name="SAF-3 reads"><failure message="again"/></testcase>')
  expect((await ines('/builds/kiln/15/failures')).body.groups[0].onIt).toBeNull()
  expect((await (await app.asks('wren'))('/builds/kiln/13/failures/taking', { method: 'POST', body: { ...TEST } })).status).toBe(403)
})

test('an item is logged for it, with what it says and who is suspected', async () => {
  const log = (test: object) => ines('/builds/kiln/13/failures/item', { method: 'POST', body: test })
  const { key } = (await log(TEST)).body
  const item = (await ines(`/items/${key}`)).body
  expect(item).toMatchObject({ type: 'defect', title: 'SAF-3 reads: fails in readCelsius' })
  expect(item.description).toContain('and 1 more with it')
  expect(item.description).toContain('Read the probe in Celsius (Ines Okafor)')
  expect((await log({ suite: 'probe', name: 'nothing' })).status).toBe(404)
  expect((await ines('/builds/kiln/99/failures')).status).toBe(404)
})

test('the past of one test: its outcomes, how often it is flaky, what it said, and the requirement that it proves', async () => {
  const record = async (name: string) => (await ines(`/test-records/kiln?suite=probe&name=${encodeURIComponent(name)}`)).body
  const { outcomes, failures: said, flaky, verifies, change } = await record('SAF-3 reads')
  expect(verifies).toEqual(['SAF-3'])
  expect(outcomes.map(({ number, outcome }: { number: number; outcome: string }) => [number, outcome]).slice(-3)).toEqual([
    [13, 'failed'],
    [12, 'passed'],
    [11, 'passed'],
  ])
  expect(said).toContainEqual({ message: 'AssertionError: NaN is not <number>', count: 1, newest: 13, newestBuild: '13' })
  expect(flaky).toMatchObject({ count: 0, of: outcomes.length })
  expect(change).toBeNull()
  expect((await record('mail goes out')).flaky).toMatchObject({ count: 1, of: 3 })
  expect((await ines('/test-records/kiln?suite=probe&name=nothing')).status).toBe(404)
})

test('builds are found by the words of builds, and main lines say since when they are broken and by whom', async () => {
  const builds = async (filter: string) =>
    (await ines(`/builds?filter=${encodeURIComponent(filter)}`)).body.rows.map((row: { number: number }) => row.number)
  expect(await builds('broke failed>=3')).toEqual([13])
  expect(await builds('passed main branch=main')).toEqual([14, 12, 11])
  expect(await builds(`commit=${(shas[1] as string).slice(0, 12)}`)).toEqual([12])
  expect(await builds('started>1d')).toEqual([])
  expect((await ines('/builds?filter=severity%3D1')).body.code).toBe('filter-not-understood')
  const { rows } = (await ines('/main-lines')).body
  expect(rows).toMatchObject([{ repository: 'kiln', branch: 'main', newest: { number: 15 }, brokenSince: { number: 15 }, brokenBy: [] }])
})

test('a test that is set aside until a day breaks nothing until that day is over, with the reason told', async () => {
  const set = (body: object, ask = rafe) => ask('/test-records/kiln/aside', { method: 'PUT', body: { ...TEST, ...body } })
  const day = (days: number) => new Date(app.clock.nowMs + days * 86_400_000).toISOString().slice(0, 10)
  expect((await set({ until: day(5) })).body.fields.why).toContain('Say why')
  expect((await set({ until: day(-1), why: 'late' })).body.fields.until).toContain('over')
  expect((await set({ until: day(200), why: 'late' })).body.fields.until).toContain('90 days')
  expect((await set({ until: day(5), why: 'the probe is replaced' }, await app.asks('wren'))).status).toBe(403)
  expect((await set({ until: day(5), why: 'the probe is replaced' })).status).toBe(200)
  const told = { ...TEST, until: day(5), why: 'the probe is replaced', by: 'person:rafe' }
  const { groups, aside } = (await ines('/builds/kiln/15/failures')).body
  expect(groups).toEqual([])
  expect(aside).toMatchObject([told])
  expect((await ines('/set-aside-tests')).body.rows).toMatchObject([{ ...told, repository: 'kiln' }])
  const record = async () => (await ines(`/test-records/kiln?suite=probe&name=${encodeURIComponent(TEST.name)}`)).body
  expect((await record()).aside).toMatchObject(told)
  app.clock.nowMs += 7 * 86_400_000
  expect((await record()).aside).toBeNull()
  expect((await ines('/builds/kiln/15/failures')).body.groups).toHaveLength(1)
  await set({ until: day(3), why: 'again' })
  await set({ until: null })
  expect((await record()).aside).toBeNull()
})

test('the picture of a main line says how it stands to whoever has its address, and only that', async () => {
  const { address } = (await ines('/repositories/kiln/badge')).body
  const path = new URL(address).pathname
  const picture = await app.call(path)
  expect([picture.status, picture.headers.get('content-type')]).toEqual([200, 'image/svg+xml'])
  expect(picture.text).toContain('aria-label="kiln main is broken"')
  expect(picture.text).not.toMatch(/<script|href|onload/i)
  await report(16, shas[3] as string, '<testcase name="SAF-3 reads"/>')
  expect((await app.call(path)).text).toContain('kiln main passes')
  expect((await app.call(path.replace('.svg', 'x.svg'))).status).toBe(404)
  expect((await app.call(`/badges/${Buffer.from('kiln').toString('base64url')}.guess.svg`)).status).toBe(404)
})

test('findings of a build are held against the nearest analysed commit: of the main line for a branch beside it', async () => {
  const found = (sha: string, rules: [string, number][]) =>
    app.call(`/receive/reports/sarif?repository=kiln&commit=${sha}`, {
      method: 'POST',
      raw: JSON.stringify({
        version: '2.1.0',
        runs: [
          {
            tool: { driver: { name: 'scan' } },
            results: rules.map(([ruleId, startLine]) => ({
              ruleId,
              level: 'warning',
              message: { text: `Found by ${ruleId}` },
              locations: [{ physicalLocation: { artifactLocation: { uri: 'src/probe.js' }, region: { startLine } } }],
            })),
          },
        ],
      }),
      headers: { authorization: `Bearer ${app.token('evidence')}` },
    })
  const read = async (build: number) => {
    const { isAnalysed, against, fresh, gone, stayed, more } = (await ines(`/builds/kiln/${build}/findings`)).body
    const rules = (rows: { ruleId: string }[]) => rows.map(({ ruleId }) => ruleId)
    return { isAnalysed, against, fresh: rules(fresh), gone: rules(gone), stayed, more }
  }
  const none = { isAnalysed: false, against: null, fresh: [], gone: [], stayed: 0, more: 0 }
  expect(await read(11)).toEqual(none)

  const [first, second, , fourth] = shas as [string, string, string, string]
  // The later commit is told first: the order of arrival does not matter. What moved from line 2 to 3 is the same finding.
  await found(second, [
    ['B', 3],
    ['C', 1],
  ])
  await found(first, [
    ['A', 1],
    ['B', 2],
  ])
  expect(await read(11)).toEqual({ ...none, isAnalysed: true, fresh: ['A', 'B'] })
  expect(await read(12)).toEqual({ ...none, isAnalysed: true, against: first, fresh: ['C'], gone: ['A'], stayed: 1 })
  expect(await read(13)).toEqual(none)

  repo.git('checkout', '--quiet', '-b', 'beside', second)
  const beside = [repo.commit('src/a.js', 'a\n', 'Begin beside'), repo.commit('src/a.js', 'b\n', 'Go on beside')] as const
  repo.git('checkout', '--quiet', 'main')
  await app.server.sync.request('kiln', 'test')
  await found(beside[0], [
    ['C', 1],
    ['D', 7],
  ])
  await found(beside[1], [
    ['C', 1],
    ['D', 8],
  ])
  await report(21, beside[1], '<testcase name="holds"/>')
  expect(await read(21)).toEqual({ ...none, isAnalysed: true, against: second, fresh: ['D'], gone: ['B'], stayed: 1 })

  // A report without a finding says that there is none, which is not the same as no report.
  await found(fourth, [])
  expect(await read(13)).toEqual({ ...none, isAnalysed: true, against: second, gone: ['C', 'B'] })
  expect((await ines('/builds/kiln/99/findings')).status).toBe(404)
})

test('a test that was moved is followed; its file, who looks after that, and the machine on which it wavers are told', async () => {
  repo.commit('.dystracer/owners', '/test/ rafe\n', 'Say who looks after tests')
  let sha = repo.commit('test/panel.test.js', 'draws\n', 'Test the panel')
  await app.server.sync.request('kiln', 'test')
  const one = (build: number, { suite, host, isWell }: { suite: string; host: string; isWell: boolean }) => {
    app.clock.nowMs += 60_000
    return app.call(`/receive/reports/junit?repository=kiln&commit=${sha}&branch=main&build=${build}`, {
      method: 'POST',
      raw:
        `<testsuite name="${suite}" hostname="${host}" file="/build/${build}/test/panel.test.js"><testcase name="draws a line">` +
        `${isWell ? '' : '<failure message="no line"/>'}</testcase></testsuite>`,
      headers: { authorization: `Bearer ${app.token('evidence')}` },
    })
  }
  for (let build = 40; build < 46; build++) await one(build, { suite: 'old panel', host: 'north', isWell: true })
  sha = repo.commit('src/panel.js', 'exports.line = () => null\n', 'Draw no line')
  await app.server.sync.request('kiln', 'test')
  for (let build = 46; build < 52; build++) await one(build, { suite: 'panel', host: 'south', isWell: false })
  const { body } = await ines(`/test-records/kiln?suite=panel&name=${encodeURIComponent('draws a line')}`)
  expect(body).toMatchObject({ file: 'test/panel.test.js', ownerIds: ['rafe'] })
  expect(body.formerly).toEqual([{ suite: 'old panel', name: 'draws a line', until: 45, untilBuild: '45' }])
  expect(body.outcomes.map(({ number }: { number: number }) => number)).toEqual([51, 50, 49, 48, 47, 46, 45, 44, 43, 42, 41, 40])
  expect(body.conditions).toMatchObject([
    { by: 'machine', value: 'south', share: { count: 6, of: 6 }, standsOut: true },
    { by: 'machine', value: 'north', share: { count: 0, of: 6 }, standsOut: false },
  ])
  await one(52, { suite: 'panel', host: 'north', isWell: true })
  sha = repo.commit('src/panel.js', 'exports.line = () => undefined\n', 'Draw nothing')
  await app.server.sync.request('kiln', 'test')
  await one(53, { suite: 'panel', host: 'north', isWell: false })
  // Whoever wrote what may have broken it sees that it is theirs; whoever wrote nothing of it does not.
  const mine = async (ask: Ask) => (await ask('/builds/kiln/53/failures')).body.groups.map(({ isMine }: { isMine: boolean }) => isMine)
  expect([await mine(ines), await mine(rafe)]).toEqual([[true], [false]])
})

test('a failure is read closely: both values, own code at the commit of the build, the test itself, and other builds of that', async () => {
  repo.commit('src/zones.js', 'exports.spread = (zones) => {\n  return zones[0]\n}\n', 'Begin zones')
  const sha = repo.commit('test/zones.test.js', "test('spreads', () => {\n  equal(spread([1, 3]), 2)\n})\n", 'Test zones')
  await app.server.sync.request('kiln', 'test')
  const send = (build: number, inner: string) =>
    app.call(`/receive/reports/junit?repository=kiln&commit=${sha}&branch=main&build=${build}`, {
      method: 'POST',
      raw: `<testsuite name="zones" file="test/zones.test.js"><testcase name="spreads">${inner}</testcase></testsuite>`,
      headers: { authorization: `Bearer ${app.token('evidence')}` },
    })
  await send(60, '')
  await send(
    61,
    '<failure message="Expected values to be strictly equal:">\n1 !== 2\n\n    at spread (/b/61/src/zones.js:2:10)\n' +
      '    at Test.run (/b/61/test/zones.test.js:2:3)\n    at node:internal/timers:1:1</failure>',
  )
  const detail = (build: number, name = 'spreads') => ines(`/builds/kiln/${build}/failures/detail?suite=zones&name=${name}`)
  const { body } = await detail(61)
  expect(body).toMatchObject({ expected: '2', actual: '1', attempts: [{ number: 60, outcome: 'passed' }] })
  expect(body.frames).toMatchObject([
    { function: 'spread', path: 'src/zones.js', line: 2, source: { from: 1 } },
    { path: 'test/zones.test.js', line: 2 },
  ])
  expect(body.frames[0].source.lines[1]).toBe('  return zones[0]')
  expect(body.code).toEqual({ path: 'test/zones.test.js', from: 1, lines: ["test('spreads', () => {", '  equal(spread([1, 3]), 2)', '})'] })
  await send(
    62,
    '<failure message="failed">Error [ERR_TEST_FAILURE]: failed\n    at node:async_hooks:206:9 {\n  code: 1,\n' +
      '  cause: AssertionError: no\n      at spread (/b/62/src/zones.js:2:10)\n  }\n}</failure>',
  )
  expect((await detail(62)).body.frames).toMatchObject([{ path: 'src/zones.js', line: 2 }])
  expect([(await detail(60)).status, (await detail(61, 'other')).status, (await detail(999)).status]).toEqual([404, 404, 404])
})
