import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { existsSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { verifyTables } from '#verify-tables'
import { cloudEvent, connectRepository, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

/** Three days of a service. What everybody was answered at the end of each is kept, and asked for again on the last. */
const DAY_MS = 86_400_000
const START_MS = Date.parse('2026-10-01T08:00:00Z')
const repo = new TestRepository()
let app: App
let ines: Ask
let wren: Ask
let whole: Ask
/** What is asked at the end of each day. */
const READS = [
  '/items',
  '/items?filter=open',
  '/items-counts?groupBy=stage',
  '/items/EMB-1',
  '/items/EMB-1/ladder',
  '/items/EMB-1/history',
  '/requirements',
  '/requirements/KLN-1',
  '/projects/EMB/gaps',
  '/projects/EMB/matrix?columns=item',
  '/threads/item:EMB-1',
  '/commits',
  '/releases',
  '/builds',
  '/search?q=relay',
  '/desk',
]
const answers = new Map<string, Map<string, unknown>>()
const instant = (ms: number) => new Date(ms).toISOString().replace('.000Z', 'Z')
const endOf = (day: number) => START_MS + day * DAY_MS + 3600_000
const cut = (body: unknown) => JSON.parse(JSON.stringify(body))

async function endDay(day: number): Promise<void> {
  app.clock.nowMs = endOf(day)
  const said = new Map<string, unknown>()
  for (const path of READS) said.set(path, cut((await ines(path)).body))
  answers.set(String(day), said)
  // What happens from here on belongs to the next day.
  app.clock.nowMs = START_MS + (day + 1) * DAY_MS
}
const open = (atMs: number, ask = ines) => ask(`/past?at=${instant(atMs)}`)
async function ready(atMs: number): Promise<void> {
  await until('the moment is ready', async () => (await open(atMs)).body.isReady === true)
}
const then = (atMs: number, path: string, ask = whole) => ask(`/api/past/${instant(atMs)}/v1${path}`)
const look = () => app.server.sync.request('kiln', 'test')

beforeAll(async () => {
  app = await startApp({ nowMs: START_MS })
  ines = await app.asks('ines')
  wren = await app.asks('wren')
  whole = await app.as('ines')
  repo.commit('src/relay.js', 'one\n', 'Begin')
  await ines('/projects/EMB/requirements', {
    method: 'POST',
    body: { prefix: 'KLN', title: 'The relay lets go', text: 'It shall let go.' },
  })
  await ines('/items', { method: 'POST', body: { title: 'Relay sticks', requirement: 'KLN-1' } })
  await ines('/items', { method: 'POST', body: { title: 'Panel flickers' } })
  connectRepository(app, 'kiln', repo.dir)
  await look()
  await endDay(0)
  repo.commit('src/relay.js', 'two\n', 'Let the relay go\n\nFixes: EMB-1')
  repo.git('tag', 'v1.0.0')
  await look()
  await ines('/requirements/KLN-1', { method: 'PUT', body: { title: 'The relay lets go', text: 'It shall let go within 2 s.' } })
  await endDay(1)
  await ines('/items/EMB-2', { method: 'PATCH', body: { title: 'Panel flickers at night', isConfidential: true, ownerId: 'ines' } })
  await ines('/projects/EMB/requirements', { method: 'POST', body: { prefix: 'KLN', title: 'The door locks', text: '' } })
  repo.commit('src/door.js', 'one\n', 'Lock the door')
  await look()
  // Told on the third day of what was on the first.
  const sha = repo.git('rev-parse', 'v1.0.0^{commit}~1')
  const build = { repository: 'kiln', sha, number: 7, branch: 'main', outcome: 'passed' }
  const told = await app.call('/receive/cloudevents', {
    method: 'POST',
    headers: { authorization: `Bearer ${app.token('evidence')}`, 'content-type': 'application/cloudevents+json' },
    raw: JSON.stringify(cloudEvent('dev.cdevents.build.finished.0.2.0', 'late', build, START_MS)),
  })
  expect(told.status).toBeLessThan(300)
  await endDay(2)
}, 60_000)
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

describe('looking back', () => {
  test('answers everything as it was answered then, whichever day is looked at first', async () => {
    for (const day of [1, 0, 2]) {
      await ready(endOf(day))
      for (const path of READS) {
        const { status, body } = await then(endOf(day), path)
        expect([day, path, status]).toEqual([day, path, 200])
        const was = answers.get(String(day))?.get(path)
        // What became confidential since is shown as that, and only to whom may see it now.
        const now = JSON.parse(JSON.stringify(body).replaceAll('"isConfidential":true', '"isConfidential":false'))
        expect([day, path, now]).toEqual([
          day,
          path,
          JSON.parse(JSON.stringify(was).replaceAll('"isConfidential":true', '"isConfidential":false')),
        ])
      }
    }
    const texts = await Promise.all([0, 1, 2].map(async (day) => (await then(endOf(day), '/requirements/KLN-1')).body.text))
    expect(texts).toEqual(['It shall let go.', 'It shall let go within 2 s.', 'It shall let go within 2 s.'])
    expect((await then(endOf(0), '/requirements/KLN-2')).status).toBe(404)
    expect((await then(endOf(1), '/items/EMB-2')).body.title).toBe('Panel flickers')
  })

  test('shows nobody what they may not see now, though it was open then', async () => {
    await ready(endOf(0))
    const reader = await app.as('wren')
    expect((await then(endOf(0), '/items', reader)).body.rows.map((item: { key: string }) => item.key)).toEqual(['EMB-1'])
    expect((await then(endOf(0), '/items/EMB-2', reader)).status).toBe(404)
    expect((await wren('/items/EMB-2')).status).toBe(404)
    // Closed while the moment is open: what was read before is hidden from then on.
    await ines('/items/EMB-1', { method: 'PATCH', body: { isConfidential: true } })
    expect((await then(endOf(0), '/items', reader)).body.rows).toEqual([])
    await ines('/items/EMB-1', { method: 'PATCH', body: { isConfidential: false } })
  })

  test('shows what was moved elsewhere since to nobody who only reads where it was', async () => {
    const made = (await ines('/items', { method: 'POST', body: { title: 'Keys of the safe' } })).body.key
    app.clock.nowMs += 3600_000
    const atMs = app.clock.nowMs - 60_000
    await ready(atMs)
    const reader = await app.as('wren')
    const titles = async () => (await then(atMs, '/items', reader)).body.rows.map((item: { title: string }) => item.title)
    expect(await titles()).toContain('Keys of the safe')
    expect((await ines('/projects', { method: 'POST', body: { prefix: 'SEC', name: 'Locks' } })).status).toBe(201)
    expect((await ines(`/items/${made}/move`, { method: 'POST', body: { project: 'SEC' } })).status).toBe(200)
    expect(await titles()).not.toContain('Keys of the safe')
  })

  test('changes nothing, and says what to do where a moment is not ready, not past, or before everything', async () => {
    const changing = await whole(`/api/past/${instant(endOf(0))}/v1/items/EMB-1`, { method: 'PATCH', body: { title: 'Otherwise' } })
    expect(changing).toMatchObject({ status: 409, body: { code: 'past-is-read-only' } })
    expect((await then(endOf(0) + 60_000 * 60 * 20, '/items')).status).toBe(200)
    expect((await open(START_MS + 90 * DAY_MS)).body.fields.at).toContain('not past yet')
    expect((await open(START_MS - 400 * DAY_MS)).body.fields.at).toContain('Nothing was known')
    expect((await whole('/api/past/yesterday/v1/items')).status).toBe(404)
    expect((await whole('/api/past/2026-13-41T00:00:00Z/v1/items')).status).toBe(404)
    expect((await ines('/past?at=yesterday')).body.fields.at).toContain('2026-10-03T12:00:00Z')
  })

  test('lists what came late: dated before, known only since', async () => {
    const { rows } = (await ines(`/past/late?at=${instant(endOf(0))}`)).body
    expect(rows.map((row: { kind: string; subjects: string[] }) => [row.kind, row.subjects[0]])).toContainEqual([
      'build-finished',
      'build:kiln/7',
    ])
    for (const row of rows) expect(row.atMs).toBeLessThanOrEqual(endOf(0))
    for (const row of rows) expect(row.knownAtMs).toBeGreaterThan(endOf(0))
    const none = (await ines(`/past/late?at=${instant(endOf(2))}`)).body
    expect(none).toEqual({ rows: [], nextCursor: null })
  })

  test('goes by when something was recorded, also where the clock was set back meanwhile', async () => {
    const now = app.clock.nowMs
    app.clock.nowMs = endOf(1) - 60_000
    await ines('/items', { method: 'POST', body: { title: 'Written while the clock was wrong' } })
    app.clock.nowMs = now
    const titles = async (atMs: number) => (await then(atMs, '/items')).body.rows.map((item: { title: string }) => item.title)
    // What a moment knew is remembered for as long as the server runs: one that nobody asked for yet is looked at.
    for (const [atMs, isThere] of [
      [endOf(1) - 120_000, false],
      [endOf(1) - 30_000, true],
      [endOf(2) - 30_000, true],
    ] as const) {
      await ready(atMs)
      expect([atMs, (await titles(atMs)).includes('Written while the clock was wrong')]).toEqual([atMs, isThere])
    }
  })

  test('names releases and baselines as moments, and since when anything is known', async () => {
    const made = await ines('/projects/EMB/baselines', { method: 'POST', body: { name: 'First', words: 'For the audit' } })
    expect(made.status).toBe(201)
    const { firstAtMs, rows } = (await ines('/past/moments')).body
    expect(firstAtMs).toBeLessThanOrEqual(START_MS)
    expect(rows.map((row: { kind: string; name: string }) => [row.kind, row.name])).toEqual([
      ['baseline', 'First'],
      ['release', 'kiln 1.0.0'],
    ])
  })

  test('keeps few moments, opens any of them again, and leaves nothing behind', async () => {
    for (let hour = 0; hour < 6; hour++) {
      await ines('/items', { method: 'POST', body: { title: `Something in hour ${hour}` } })
      app.clock.nowMs += 3600_000
      await ready(app.clock.nowMs - 60_000)
    }
    expect(readdirSync(join(app.dataDir, 'past')).length).toBeLessThanOrEqual(4)
    expect(await then(endOf(0), '/items')).toMatchObject({ status: 409, body: { code: 'past-not-open' } })
    await ready(endOf(0))
    expect((await then(endOf(0), '/items')).body.rows).toHaveLength(2)
    expect(existsSync(join(app.dataDir, 'past'))).toBe(true)
  })
})
