import { afterAll, beforeAll, expect, test } from '@jest/globals'
import type { Matrix } from '@dystracer/core/threads/matrix'
import { connectRepository, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

let app: App
let repo: TestRepository
let ines: Ask
let wren: Ask
beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  ;[ines, wren] = [await app.asks('ines'), await app.asks('wren')]
  const log = (body: object) => ines('/items', { method: 'POST', body: { project: 'EMB', ...body } })
  await log({ title: 'Relay sticks', requirement: 'SAF-3' })
  await log({ title: 'Door unlocked', requirement: 'SAF-3', isConfidential: true })
  repo.commit('relay.js', 'a\n', 'Let it go\n\nFixes: EMB-1')
  repo.git('tag', 'v1.0.0')
  repo.commit('more.js', 'a\n', 'More')
  repo.git('tag', 'v1.1.0')
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  await until('the releases are known', async () => (await ines('/releases')).body.services[0]?.releases.length === 2)
  await app.call('/receive/reports/junit?repository=kiln&commit=HEAD&build=1&branch=main', {
    method: 'POST',
    headers: { authorization: `Bearer ${app.token('evidence')}` },
    raw: '<testsuite name="s"><testcase name="SAF-3: relay opens"/><testcase name="SAF-3: probe"><failure message="no"/></testcase></testsuite>',
  })
})
afterAll(async () => {
  await app.stop()
  repo.remove()
})

const matrix = async (columns: string, ask = ines): Promise<Matrix> => (await ask(`/projects/EMB/matrix?columns=${columns}`)).body

test('the matrix holds requirements against items, without those that the asker may not see', async () => {
  const all = await matrix('item')
  expect(all.rows.map(({ key }) => key)).toContain('SAF-3')
  expect(all.columns.map(({ id }) => id)).toEqual(['EMB-1', 'EMB-2'])
  const [cell] = all.cells
  expect(cell).toMatchObject({ row: 'SAF-3', column: 'EMB-1' })
  expect((await matrix('item', wren)).columns.map(({ id }) => id)).toEqual(['EMB-1'])
  await ines(`/items/EMB-1/links/${cell?.linkId}`, { method: 'DELETE' })
  expect((await matrix('item')).columns.map(({ id }) => id)).toEqual(['EMB-2'])
  await ines('/items/EMB-1/links', { method: 'POST', body: { kind: 'implements', to: { kind: 'requirement', id: 'SAF-3' } } })
})

test('against releases a fix that is reachable holds; against components the worst of their items counts', async () => {
  expect((await matrix('release')).cells.map(({ column, state, words }) => [column, state, words])).toEqual([
    ['kiln@1.1.0', 'holds', 'holds EMB-1'],
    ['kiln@1.0.0', 'holds', 'holds EMB-1'],
  ])
  expect((await matrix('component')).columns.length).toBeGreaterThanOrEqual(1)
  expect((await ines('/projects/EMB/matrix?columns=moon')).status).toBe(422)
})

test('it goes out as CSV and as a page', async () => {
  expect((await ines('/projects/EMB/matrix.csv?columns=item')).text).toMatch(/SAF-3,[^\r]*,/)
  const page = await ines('/projects/EMB/matrix.html?columns=item')
  expect(page.headers.get('content-type')).toContain('text/html')
  expect(page.text).toContain('EMB-1')
})
