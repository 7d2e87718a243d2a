import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { execFileSync } from 'node:child_process'
import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { ChangePart, WholeChange } from '@dystracer/core/whole-change/wire'
import { TestRepository, startApp, until, type App, type Ask } from './app-harness.js'

/** The whole change of an item over two repositories that plain git alone reaches, with other people's work between. */
const places = mkdtempSync(join(tmpdir(), 'dystracer-whole-places-'))
const bareOf = (name: string) => join(places, `${name}.git`)
const tides = new TestRepository()
const quay = new TestRepository()
let app: App
let ines: Ask
let rafe: Ask
let item = ''
const trailer = () => `\n\nTouches: ${item}`

async function push(name: string, from: TestRepository, branch: string): Promise<void> {
  from.git('push', '--quiet', '--force', bareOf(name), branch)
  await app.server.sync.request(name, 'a push')
}
async function propose(name: string, branch: string): Promise<number> {
  return (await rafe('/pull-requests', { method: 'POST', body: { repository: name, source: branch } })).body.number
}
const whole = async (ask = rafe): Promise<WholeChange> => (await ask(`/items/${item}/change`)).body
const part = async (name: string): Promise<ChangePart> => {
  const found = (await whole()).parts.find(({ repository }) => repository === name)
  if (!found) throw new Error(`nothing of ${name}`)
  return found
}
const readOf = async (name: string): Promise<number> =>
  (await ines('/repositories')).body.rows.find((row: { repository: string }) => row.repository === name)?.commits ?? 0
const subjects = (rows: readonly { subject: string }[]) => rows.map(({ subject }) => subject)
const added = (diff = '') =>
  diff
    .split('\n')
    .filter((line) => /^\+[^+]/.test(line))
    .map((line) => line.slice(1))

beforeAll(async () => {
  for (const name of ['tides', 'quay']) execFileSync('git', ['init', '--quiet', '--bare', '--initial-branch=main', bareOf(name)])
  app = await startApp({ config: { repositoriesDir: places } })
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
  item = (await rafe('/items', { method: 'POST', body: { title: 'Low water is late at the quay' } })).body.key
  tides.commit('table.py', 'a\nb\nc\nd\ne\nf\ng\nh\ni\nj\n', 'Begin')
  tides.commit('notes.md', 'Notes\nof\nthe\ntide\n', 'Notes')
  tides.commit('table.py', 'a\nB one\nc\nd\ne\nf\ng\nh\ni\nj\n', `The second line${trailer()}`)
  tides.commit('notes.md', 'Notes\nof\nthe\ntide, by another\n', 'Somebody writes notes')
  tides.commit('table.py', 'a\nB two\nc\nd\ne\nf\ng\nh\ni\nj\n', `The second line, better${trailer()}`)
  tides.commit('table.py', 'a\nB two\nc\nd\ne\nf\ng\nh\nother\nj\n', 'Somebody changes the table')
  tides.commit('table.py', 'a\nB two\nc\nd\ne\nf\ng\nh\nother\nJ three\n', `And the last line${trailer()}`)
  tides.commit('tmp.txt', 'for a while\n', `A file for a while${trailer()}`)
  tides.git('rm', '--quiet', 'tmp.txt')
  tides.git('mv', 'notes.md', 'tide notes.md')
  tides.git('commit', '--quiet', '-m', `Away with it, and a better name${trailer()}`)
  tides.git('push', '--quiet', bareOf('tides'), 'main')
  quay.commit('lamp.js', 'let lamp = 0\n', 'Begin')
  quay.git('push', '--quiet', bareOf('quay'), 'main')
  for (const name of ['tides', 'quay']) {
    await ines('/projects/EMB/repositories', { method: 'POST', body: { url: bareOf(name) } })
    await until(`${name} was read`, async () => (await readOf(name)) > 0)
  }
})
afterAll(async () => {
  await app.stop()
  tides.remove()
  quay.remove()
  rmSync(places, { recursive: true, force: true })
})

test('steps at a file are one change as long as nobody else changes it; what was taken back is none; names are followed', async () => {
  const { commits, strands, sheets, leftOut, trouble } = await part('tides')
  expect(trouble).toBeNull()
  expect(leftOut).toEqual([])
  expect(commits).toHaveLength(5)
  expect(sheets).toHaveLength(2)
  // The first of the two lines that were written is not there any more: only what came of it.
  expect(added(sheets[0]?.diff)).toEqual(['B two'])
  expect(added(sheets[1]?.diff)).toEqual(['J three'])
  expect(sheets[0]?.diff).not.toContain('tmp.txt')
  expect(sheets[0]?.diff).toContain('rename to tide notes.md')
  // Somebody else's lines stand around, and are nobody's change here.
  expect(`${sheets[0]?.diff}${sheets[1]?.diff}`).not.toMatch(/^[+-](?:other|tide, by another)/m)
  expect(strands.map(({ path, sheet, shas }) => [path, sheet, shas.length])).toEqual([
    ['table.py', 0, 2],
    ['table.py', 1, 1],
    ['tide notes.md', 0, 1],
  ])
})

test('what is open stands beside what came in, over all repositories; a pick counts once, a squashed branch as its commit', async () => {
  quay.git('checkout', '--quiet', '-b', 'dim')
  quay.commit('lamp.js', 'let lamp = 1\n', `Begin to dim${trailer()}`)
  quay.commit('lamp.js', 'let lamp = 2\n', 'Dim it more')
  await push('quay', quay, 'dim')
  const number = await propose('quay', 'dim')
  const open = await part('quay')
  expect(subjects(open.commits)).toEqual(['Begin to dim', 'Dim it more'])
  expect(open.strands).toEqual([{ path: 'lamp.js', sheet: 0, shas: open.commits.map(({ sha }) => sha), pullRequest: number }])
  expect(open.pullRequests).toMatchObject([{ number, state: 'open' }])

  const body = { method: 'squash', passOver: 'Nobody else is here' }
  expect((await ines(`/pull-requests/quay/${number}/merging`, { method: 'POST', body })).status).toBe(200)
  await until('it is merged', async () => (await part('quay')).pullRequests[0]?.state === 'merged')
  const after = await part('quay')
  expect(after.commits).toHaveLength(1)
  expect(after.commits[0]).toMatchObject({ isOnMain: true, pullRequest: number })
  expect(after.leftOut.map(({ why }) => why)).toEqual(['squashed'])
  expect(after.strands[0]?.pullRequest).toBeNull()
  expect(added(after.sheets[0]?.diff)).toEqual(['let lamp = 2'])

  const pick = tides.git('rev-parse', 'HEAD~1')
  tides.git('checkout', '--quiet', '-b', 'line/1', 'HEAD~4')
  tides.git('cherry-pick', pick)
  await push('tides', tides, 'line/1')
  const { commits, leftOut } = await part('tides')
  expect(commits).toHaveLength(5)
  expect(leftOut).toEqual([expect.objectContaining({ why: 'same', of: pick })])
})

test('nothing stays behind in the copy of the repository, and who may not read an item reads nothing of it', async () => {
  const mirror = join(app.dataDir, 'git', 'tides.git')
  const count = () => execFileSync('git', ['count-objects', '-v'], { cwd: mirror, encoding: 'utf8' })
  const before = count()
  await whole()
  expect(count()).toBe(before)
  const scratch = readdirSync(tmpdir()).filter((name) => existsSync(join(tmpdir(), name, 'objects')))
  expect(scratch.filter((name) => name.startsWith('dystracer-whole-'))).toEqual([])
  const secret = (await rafe('/items', { method: 'POST', body: { title: 'The code of the quay', isConfidential: true } })).body.key
  const wren = await app.asks('wren')
  expect((await wren(`/items/${secret}/change`)).status).toBe(404)
  expect((await rafe('/items/EMB-99999/change')).status).toBe(404)
})

test('a repository that cannot be read hides nothing of the others', async () => {
  rmSync(join(app.dataDir, 'git', 'quay.git'), { recursive: true, force: true })
  const { parts } = await whole()
  expect(parts.map(({ repository, trouble }) => [repository, trouble === null])).toEqual([
    ['quay', false],
    ['tides', true],
  ])
})

test('an item without code has no parts', async () => {
  const key = (await rafe('/items', { method: 'POST', body: { title: 'Nobody has begun' } })).body.key
  expect((await rafe(`/items/${key}/change`)).body).toEqual({ key, title: 'Nobody has begun', parts: [], isShort: false })
})
