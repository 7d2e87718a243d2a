import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, symlinkSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

/** Who asked for this line? Files at the main line, their blame to item and requirement, and search in them. */
const places = mkdtempSync(join(tmpdir(), 'dystracer-files-'))
const bare = join(places, 'tides.git')
const work = new TestRepository()
let app: App
let ines: Ask
let rafe: Ask
let wren: Ask
let item = ''
let secret = ''
/** Hashes of contents, in the order in which they were committed. */
const states: string[] = []
const read = (path: string, ask = rafe) => ask(`/repositories/tides/file?path=${encodeURIComponent(path)}`)
const find = async (q: string) => (await rafe(`/files?q=${encodeURIComponent(q)}`)).body

beforeAll(async () => {
  execFileSync('git', ['init', '--quiet', '--bare', '--initial-branch=main', bare])
  app = await startApp({ config: { repositoriesDir: places } })
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
  wren = await app.asks('wren')
  await ines('/projects/EMB/requirements', {
    method: 'POST',
    body: {
      prefix: 'TID',
      title: 'Tides are on time',
      text: 'The table shall be right to the minute.',
    },
  })
  const log = async (body: object): Promise<string> => (await rafe('/items', { method: 'POST', body })).body.key
  item = await log({ title: 'Low water is late', requirement: 'TID-1' })
  secret = await log({ title: 'The quay code is in the table', isConfidential: true })
  work.commit('tide/table.py', 'first\nsecond\nthird\n', 'Begin')
  work.commit('tide/table.py', 'first\nSECOND hour\nthird\n', `Count from high water\n\nFixes: ${item}`)
  work.commit('tide/table.py', 'first\nSECOND hour\nthird\nno code\n', `Leave the code out\n\nFixes: ${secret}`)
  work.commit('odd [name]?.txt', 'hour of the day\n', 'A path that looks like a pattern')
  work.commit('mark.bin', 'a\0b', 'Not a text')
  work.commit('panel.svg', '<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>', 'A picture that would act')
  const state = (path: string, text: string) => {
    work.commit(path, text, `Another state of ${path}`)
    states.push(work.git('rev-parse', `HEAD:${path}`))
  }
  state('stations.json', '{"stations": [{"id": 7, "name": "Quay"}]}')
  state('stations.json', '{\n  "stations": [{"name": "Old quay", "id": 7}]\n}\n')
  state('stations.tsv', 'id\tname\n7\tQuay\n8\tPier\n')
  state('stations.tsv', '\uFEFFid\tname\n7\tOld quay\n8\tPier\n')
  state('stations.json', `"${'x'.repeat(300_000)}"`)
  symlinkSync('/etc/passwd', join(work.dir, 'outside'))
  work.git('add', 'outside')
  work.git('commit', '--quiet', '-m', 'A link that leads out')
  work.git('push', '--quiet', bare, 'main')
  await ines('/projects/EMB/repositories', { method: 'POST', body: { url: bare } })
  await until('it was read', async () => (await ines('/repositories')).body.rows[0]?.commits === 12)
})
afterAll(async () => {
  await app.stop()
  rmSync(places, { recursive: true, force: true })
  work.remove()
})

describe('a file', () => {
  test('leads from each line to commit, item and requirement', async () => {
    const { status, body } = await read('tide/table.py')
    expect(status).toBe(200)
    expect(body).toMatchObject({ text: 'first\nSECOND hour\nthird\nno code\n', isBinary: false, isCut: false, commitCount: 3 })
    const runs = body.runs.map((run: { line: number; lastLine: number; subject: string; items: string[]; requirements: string[] }) => [
      run.line,
      run.lastLine,
      run.subject,
      run.items,
      run.requirements,
    ])
    expect(runs).toEqual([
      [1, 1, 'Begin', [], []],
      [2, 2, 'Count from high water', [item], ['TID-1']],
      [3, 3, 'Begin', [], []],
      [4, 4, 'Leave the code out', [secret], []],
    ])
    expect(body.requirements).toEqual([{ key: 'TID-1', title: 'Tides are on time', lines: 1 }])
    expect(body.items.map(({ key }: { key: string }) => key).sort()).toEqual([item, secret].sort())
    expect(body.knowers).toMatchObject([{ lines: 4, commits: 3 }])
  })

  test('tells nobody of an item that is not for them', async () => {
    const { body } = await read('tide/table.py', wren)
    expect(JSON.stringify(body)).not.toContain(secret)
    expect(body.runs[3].items).toEqual([])
  })

  test('is a file of the main line, and nothing else', async () => {
    expect((await read('tide/gone.py')).status).toBe(404)
    expect((await read('tide')).status).toBe(404)
    expect((await read('outside')).status).toBe(404)
    expect((await read('../../etc/passwd')).status).toBe(404)
    expect((await read('tide/*.py')).status).toBe(404)
    expect((await read('')).status).toBe(422)
    expect((await rafe('/repositories/nowhere/file?path=x')).status).toBe(404)
  })

  test('may have a path that looks like a pattern, and may be no text', async () => {
    expect((await read('odd [name]?.txt')).body.text).toBe('hour of the day\n')
    expect((await read('mark.bin')).body).toMatchObject({ isBinary: true, text: '', runs: [] })
  })
})

describe('search in files', () => {
  test('finds a text as it stands, whatever its case, with place and line', async () => {
    expect((await find('HOUR')).rows).toEqual([
      { repository: 'tides', path: 'odd [name]?.txt', line: 1, text: 'hour of the day' },
      { repository: 'tides', path: 'tide/table.py', line: 2, text: 'SECOND hour' },
    ])
    expect((await find('.*')).rows).toEqual([])
    expect((await find('-e --open-files-in-pager=ls')).rows).toEqual([])
    expect((await rafe('/files?q=x')).status).toBe(422)
  })

  test('gives at most so many lines, and says that there are more', async () => {
    for (let at = 0; at < 12; at++) work.commit(`many/${at}.txt`, 'quay\n'.repeat(30), `Many ${at}`)
    work.git('push', '--quiet', bare, 'main')
    await app.server.sync.request('tides', 'test')
    const { rows, isCut } = await find('quay')
    expect(rows).toHaveLength(200)
    expect(isCut).toBe(true)
  })
})

test('two states of a file are compared by what they mean, or it is said why they cannot be', async () => {
  const [json, renamed, table, retable, large] = states
  const meaning = (form: string, before = '', after = '', ask = wren) =>
    ask(`/repositories/tides/meaning?form=${form}&before=${before}&after=${after}`)
  expect((await meaning('json', json, renamed)).body).toEqual({
    changes: [{ at: 'stations[id 7].name', before: '"Quay"', after: '"Old quay"' }],
    total: 1,
    why: null,
  })
  expect((await meaning('table', table, retable)).body.changes).toEqual([{ at: 'row 7, name', before: 'Quay', after: 'Old quay' }])
  expect((await meaning('json', json, table)).body).toMatchObject({
    total: 0,
    why: expect.stringMatching(/^It was no JSON after the change/),
  })
  expect((await meaning('json', json, large)).status).toBe(404)
  expect((await meaning('json', json, 'f'.repeat(40))).status).toBe(404)
  expect((await meaning('json', json, '--all')).status).toBe(422)
  expect((await app.call(`/api/v1/repositories/tides/meaning?form=json&before=${json}&after=${renamed}`)).status).toBe(401)
})

test('a picture is had by the hash of its content, shown as a picture alone; what is none is not there', async () => {
  const picture = (blob: string, ask = wren) => ask(`/repositories/tides/pictures/${blob}`)
  const blobOf = (path: string) => work.git('rev-parse', `HEAD:${path}`)
  const answer = await picture(blobOf('panel.svg'))
  expect(answer.status).toBe(200)
  expect(answer.headers.get('content-type')).toBe('image/svg+xml')
  expect(answer.headers.get('content-security-policy')).toContain('sandbox')
  expect(answer.headers.get('x-content-type-options')).toBe('nosniff')
  expect(answer.text).toContain('<svg')
  for (const blob of [blobOf('tide/table.py'), blobOf('mark.bin'), work.git('rev-parse', 'HEAD'), '0'.repeat(40), 'HEAD', '--help'])
    expect([blob, (await picture(encodeURIComponent(blob))).status]).toEqual([blob, 404])
  expect((await app.call(`/api/v1/repositories/tides/pictures/${blobOf('panel.svg')}`)).status).toBe(401)
})

test('the code of an item: its commits with the release that holds each, its files with what changed since', async () => {
  const code = async (key: string, ask = rafe) => (await ask(`/items/${key}/code`)).body
  expect(await code(item)).toMatchObject({
    commits: [{ subject: 'Count from high water', isOnMain: true, release: null }],
    pullRequests: [],
    files: [{ repository: 'tides', path: 'tide/table.py', commits: 1, changedSince: 1 }],
  })
  // The line of 1.0 has the change as a cherry-pick, that of 1.1 the commit itself.
  const sha = work.git('log', '--format=%H', '--grep=Count from high water').trim()
  work.git('checkout', '--quiet', '-b', 'line', `${sha}~1`)
  work.commit('other.txt', 'x\n', 'Only on the line')
  work.git('cherry-pick', sha)
  work.git('tag', 'v1.0.1')
  work.git('push', '--quiet', bare, 'line', 'v1.0.1')
  await app.server.sync.request('tides', 'test')
  const placed = (await code(item)).commits
  expect(placed).toHaveLength(2)
  expect(placed.map(({ release }: { release: { id: string; isPick: boolean } }) => [release.id, release.isPick]).sort()).toEqual([
    ['tides@1.0.1', false],
    ['tides@1.0.1', true],
  ])
  expect((await rafe('/items/EMB-999/code')).status).toBe(404)
  expect((await wren(`/items/${secret}/code`)).status).toBe(404)
})
