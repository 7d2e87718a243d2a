import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Bisection } from '@dystracer/core/bisecting/wire'
import { goOnWithAll } from '#subjects/bisecting/bisecting.commands'
import { verifyTables } from '#verify-tables'
import { connectRepository, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

/** What broke a test is found by the companion really building commits in between, each as its own description says. */
const DYS = join(import.meta.dirname, '../../../cli/dist/bundle/dys.mjs')
const DESCRIPTION = 'steps:\n  - { name: test, command: "node check.js > report.xml", reports: [report.xml] }\n'
const CHECK = `
const value = Number(require('fs').readFileSync('value.txt', 'utf8'))
const failure = value < 600 ? '' : '<failure message="' + value + ' is too hot"/>'
console.log('<testsuite name="limits"><testcase name="stays below 600">' + failure + '</testcase><testcase name="is there"/></testsuite>')
`
const TEST = { suite: 'limits', name: 'stays below 600' }
let app: App
let repo: TestRepository
let ines: Ask
let folder: string
const shas: string[] = []

beforeAll(async () => {
  app = await startApp()
  ines = await app.asks('ines')
  repo = new TestRepository()
  folder = mkdtempSync(join(tmpdir(), 'dystracer-bisecting-'))
  repo.commit('.dystracer/build.yml', DESCRIPTION, 'Say how it is built')
  repo.commit('check.js', CHECK, 'A check')
  // The sixth makes it too hot; the fourth cannot be built.
  for (const value of [100, 200, 300, 400, 500, 650, 640, 700, 710]) {
    if (value === 400) repo.commit('.dystracer/build.yml', 'steps: nonsense\n', 'A slip')
    shas.push(repo.commit('value.txt', String(value), `Heat to ${value}`))
    if (value === 400) repo.commit('.dystracer/build.yml', DESCRIPTION, 'Mend the slip')
  }
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
  rmSync(folder, { recursive: true, force: true })
})

/** The companion builds what waits, and ends. */
async function buildWhatWaits(): Promise<void> {
  const args = [DYS, 'build', '--machine', 'bench-1', '--folder', folder, '--once']
  const env = { PATH: process.env.PATH, HOME: folder, DYSTRACER_URL: app.url, DYSTRACER_TOKEN: app.token('evidence'), NODE_OPTIONS: '' }
  const child = spawn(process.execPath, args, { cwd: folder, env, stdio: 'ignore' })
  expect(await new Promise((resolve) => child.on('close', resolve))).toBe(0)
}
const want = (commit = '') => ines('/repositories/kiln/wanted-builds', { method: 'POST', body: { commit, branch: 'main' } })
const begin = (body: object, ask = ines) => ask('/repositories/kiln/bisections', { method: 'POST', body })
const searches = async (): Promise<Bisection[]> => (await ines('/repositories/kiln/bisections')).body.rows
const waiting = async (): Promise<{ state: string }[]> =>
  (await ines('/wanted-builds?repository=kiln')).body.rows.filter((row: { state: string }) => row.state !== 'ended')

test('a test that passed in no build before cannot be searched for, and one that does not fail neither', async () => {
  await want(shas[8])
  await buildWhatWaits()
  const [build] = (await ines('/builds?repository=kiln')).body.rows
  const refused = await begin({ build: build.number, ...TEST })
  expect([refused.status, refused.body.detail]).toEqual([409, expect.stringContaining('build an older commit first')])
  expect((await begin({ build: build.number, suite: 'limits', name: 'is there' })).status).toBe(409)
  expect((await begin({ build: 4711, ...TEST })).status).toBe(404)
  expect((await begin({ build: build.number, ...TEST }, await app.asks('wren'))).status).toBe(403)
})

test('the commit is found by building few of those between, past one that cannot be built', async () => {
  await want(shas[0])
  await buildWhatWaits()
  await want(shas[8])
  await buildWhatWaits()
  const [build] = (await ines('/builds?repository=kiln')).body.rows
  const begun = await begin({ build: build.number, ...TEST })
  expect(begun.status).toBe(201)
  expect(begun.body).toMatchObject({
    good: shas[0],
    bad: shas[8],
    by: 'ines',
    outcome: null,
    left: 10,
    steps: 4,
    told: [{ verdict: 'bad' }],
  })
  // Asked again it is the same, and wants nothing twice.
  expect((await begin({ build: build.number, ...TEST })).body.bisectionId).toBe(begun.body.bisectionId)
  goOnWithAll(app.ctx)
  expect(await waiting()).toHaveLength(1)
  await until(
    'it is found',
    async () => {
      await buildWhatWaits()
      return (await searches())[0]?.outcome === 'found'
    },
    60_000,
  )
  const [found] = await searches()
  expect(found?.guilty).toMatchObject([{ sha: shas[5], subject: 'Heat to 650' }])
  expect(found).toMatchObject({ left: 0, steps: 0, building: null })
  // Of the eight that nobody had built, at most half were.
  expect(found?.told.length).toBeLessThanOrEqual(6)
  expect(await waiting()).toEqual([])
}, 90_000)

test('a search is called off, with what is built for it, and what others built meanwhile counts for the next', async () => {
  const [build] = (await ines('/builds?repository=kiln')).body.rows.filter((row: { sha: string }) => row.sha === shas[8])
  const again = await begin({ build: build.number, ...TEST })
  // All that is needed is known from before: nothing is built.
  expect(again.body).toMatchObject({ outcome: 'found', guilty: [{ sha: shas[5] }] })
  shas.push(repo.commit('value.txt', '720', 'Heat to 720'))
  for (const value of [100, 110, 120, 800]) shas.push(repo.commit('value.txt', String(value), `Then ${value}`))
  await app.server.sync.request('kiln', 'test')
  for (const at of [10, 13]) {
    await want(shas[at])
    await buildWhatWaits()
  }
  const [last] = (await ines('/builds?repository=kiln')).body.rows.filter((row: { sha: string }) => row.sha === shas[13])
  const open = (await begin({ build: last.number, ...TEST })).body
  expect(open).toMatchObject({ outcome: null, good: shas[10], bad: shas[13] })
  expect(await waiting()).toHaveLength(1)
  const stopped = await ines(`/repositories/kiln/bisections/${open.bisectionId}/stop`, { method: 'POST', body: {} })
  expect(stopped.body).toMatchObject({ outcome: 'called-off', guilty: [], building: null })
  expect(await waiting()).toEqual([])
  goOnWithAll(app.ctx)
  expect(await waiting()).toEqual([])
  expect((await ines('/repositories/kiln/bisections/none/stop', { method: 'POST', body: {} })).status).toBe(404)
}, 60_000)

test('a test that came with a branch and failed after its merge is searched from the branch on', async () => {
  repo.git('checkout', '--quiet', '-b', 'cool', shas[10] ?? '')
  const cool = repo.commit('value.txt', '20', 'Cool it')
  await app.server.sync.request('kiln', 'test')
  await ines('/repositories/kiln/wanted-builds', { method: 'POST', body: { commit: cool, branch: 'cool' } })
  await buildWhatWaits()
  repo.git('checkout', '--quiet', '-b', 'late', 'cool')
  const guilty = repo.commit('value.txt', '900', 'Heat it again')
  const tip = repo.commit('value.txt', '910', 'And more')
  await app.server.sync.request('kiln', 'test')
  await ines('/repositories/kiln/wanted-builds', { method: 'POST', body: { commit: tip, branch: 'late' } })
  await buildWhatWaits()
  const [build] = (await ines('/builds?repository=kiln')).body.rows.filter((row: { sha: string }) => row.sha === tip)
  expect((await ines(`/builds/kiln/${build.number}/failures`)).body.groups[0]).toMatchObject({
    canBisect: true,
    since: { passedBefore: 0 },
  })
  expect((await begin({ build: build.number, ...TEST })).body).toMatchObject({ good: cool, bad: tip, left: 2 })
  await until('it is found', async () => {
    await buildWhatWaits()
    return (await searches())[0]?.outcome === 'found'
  })
  expect((await searches())[0]?.guilty).toMatchObject([{ sha: guilty }])
}, 60_000)
