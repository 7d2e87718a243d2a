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
    raw:
      '<testsuite name="s"><testcase name="SAF-3: relay opens"/><testcase name="SAF-3: probe"><failure ' +
      'message="no"/></testcase></testsuite>',
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

test('what a change of a requirement would reach is told by evidence: refining ones, items, files, tests, people, what runs', async () => {
  await ines('/projects/EMB/requirements', { method: 'POST', body: { prefix: 'SAF', title: 'Probe', text: 'It shall be read.' } })
  const rows = (await ines('/requirements')).body.rows as { key: string; title: string }[]
  const probe = rows.find(({ title }) => title === 'Probe')?.key ?? ''
  await ines(`/requirements/${probe}/relations`, { method: 'POST', body: { name: 'refines', to: 'SAF-3' } })
  await ines('/items', { method: 'POST', body: { project: 'EMB', title: 'Read it', type: 'task', requirement: probe, ownerId: 'rafe' } })
  const { body } = await ines('/requirements/SAF-3/impact')
  expect(body.refinedBy).toEqual([{ key: probe, title: 'Probe', steps: 1 }])
  expect(body.items.map(({ key, of }: { key: string; of: string }) => [key, of])).toEqual(
    expect.arrayContaining([
      ['EMB-1', 'SAF-3'],
      ['EMB-3', probe],
    ]),
  )
  expect(body.files).toMatchObject([{ repository: 'kiln', path: 'relay.js', commits: 1 }])
  expect(body.people.map(({ name }: { name: string }) => name)).toEqual(expect.arrayContaining(['Ines Okafor', 'Rafe Varga']))
  expect((await wren('/requirements/SAF-3/impact')).body.items.map(({ key }: { key: string }) => key)).not.toContain('EMB-2')
  expect((await ines('/requirements/NIX-1/impact')).status).toBe(404)
})
