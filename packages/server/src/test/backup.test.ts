import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { execFile, spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, utimesSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { openReadOnly } from '#platform/db/open'
import { connectRepository, exceptionRequest, startApp, TestRepository, type App, type Ask } from './app-harness.js'

const CLI = join(import.meta.dirname, '../cli/main.js')
const places = mkdtempSync(join(tmpdir(), 'dystracer-backups-'))
const repo = new TestRepository()
let app: App
let ines: Ask
beforeAll(async () => {
  app = await startApp()
  ines = await app.asks('ines')
  repo.commit('tides.py', 'one\n', 'Begin')
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  await ines('/items', { method: 'POST', body: { title: 'Relay sticks' } })
  await ines('/items/EMB-1/attachments?name=a.txt', {
    method: 'POST',
    raw: 'what the panel said',
    headers: { 'content-type': 'application/octet-stream' },
  })
})
afterAll(async () => {
  await app.stop()
  rmSync(places, { recursive: true, force: true })
  repo.remove()
})

/** The command in a process of its own, away from any data folder that it was not told of. */
async function run(...args: string[]): Promise<{ status: number; said: string }> {
  const env = { PATH: process.env.PATH, NODE_OPTIONS: '' }
  try {
    const { stdout, stderr } = await promisify(execFile)(process.execPath, [CLI, ...args], { cwd: places, env, timeout: 60_000 })
    return { status: 0, said: stdout + stderr }
  } catch (error) {
    const { stdout = '', stderr = '' } = error as { stdout?: string; stderr?: string }
    return { status: 1, said: stdout + stderr }
  }
}
const there = (dir: string) => {
  const db = openReadOnly(join(dir, 'dystracer.db'))
  const titles = db.prepare<[], string>('SELECT title FROM item').pluck().all()
  db.close()
  return titles
}

test('a backup taken while hundreds of requests a second write ends, and is one state with all that was answered before it', async () => {
  const answered: string[] = []
  let isOver = false
  let writes = 0
  const token = app.token('intake')
  const write = async (writer: number) => {
    for (let turn = 0; !isOver; turn++) {
      const title = `Door ${writer}-${turn}`
      const isTelemetry = turn % 2 === 0
      const answer = isTelemetry
        ? await app.call('/otlp/v1/logs', {
            method: 'POST',
            raw: JSON.stringify(exceptionRequest({ message: title, type: `Fault${writer}x${turn % 7}`, atMs: app.clock.nowMs })),
            headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
          })
        : await ines('/items', { method: 'POST', body: { title } })
      if (!isTelemetry && answer.status === 201) answered.push(title)
      writes++
    }
  }
  const writers = [1, 2, 3, 4, 5, 6].map(write)
  while (answered.length < 40) await new Promise((resolve) => setTimeout(resolve, 20))
  const before = [...answered]
  const writesBefore = writes
  const file = join(places, 'busy.tgz')
  const made = await run('backup', file, '--data', app.dataDir)
  const during = writes - writesBefore
  isOver = true
  await Promise.all(writers)
  expect(made.said).toContain('saved to')
  expect(during).toBeGreaterThan(20)

  const restored = join(places, 'busy')
  expect((await run('restore', file, '--data', restored)).status).toBe(0)
  expect((await run('verify', '--data', restored)).said).toContain('clean')
  expect(there(restored)).toEqual(expect.arrayContaining(before))
  const git = spawnSync('git', ['fsck', '--no-dangling', '--no-progress'], { cwd: join(restored, 'git', 'kiln.git'), encoding: 'utf8' })
  expect([git.status, git.stdout]).toEqual([0, ''])
  expect(readdirSync(join(restored, 'blobs'), { recursive: true })).not.toEqual([])

  // Occurrences are a moment younger than the journal: opened, each group of theirs has its fault.
  const again = await startApp({ dataDir: restored })
  const groups = () => again.ctx.volume.prepare<[], string>('SELECT fingerprint FROM fault_group').pluck().all()
  const faults = () => again.ctx.db.prepare<[], string>('SELECT fingerprint FROM fault').pluck().all()
  for (let turn = 0; turn < 100 && faults().length < groups().length; turn++) await new Promise((resolve) => setTimeout(resolve, 50))
  expect(faults().sort()).toEqual(expect.arrayContaining(groups().sort()))
  await again.stop()
}, 120_000)

describe('restore', () => {
  const file = join(places, 'plain.tgz')
  beforeAll(async () => {
    await run('backup', file, '--data', app.dataDir)
  })
  const change = (name: string, act: (dir: string) => void) => {
    const dir = mkdtempSync(join(places, 'changed-'))
    spawnSync('tar', ['-xzf', file, '-C', dir])
    act(dir)
    spawnSync('tar', ['-czf', join(places, name), '-C', dir, ...readdirSync(dir)])
    return join(places, name)
  }

  test.each([
    ['is damaged', (dir: string) => writeFileSync(join(dir, 'occurrences.db'), 'x'), 'occurrences.db in .* is damaged'],
    ['lacks a file', (dir: string) => rmSync(join(dir, 'occurrences.db')), 'lacks occurrences.db'],
    ['has no manifest', (dir: string) => rmSync(join(dir, 'manifest.json')), 'not a backup of Dystracer'],
    ['holds more than its manifest names', (dir: string) => writeFileSync(join(dir, 'more'), 'x'), 'holds more'],
    [
      'comes from a newer version',
      (dir: string) => {
        const path = join(dir, 'manifest.json')
        writeFileSync(path, readFileSync(path, 'utf8').replace('"format":1', '"format":2'))
      },
      'newer version',
    ],
  ])('refuses a file that %s, and leaves nothing behind', async (name, act, words) => {
    const target = join(places, `into ${name}`)
    const { status, said } = await run('restore', change(`${name}.tgz`, act), '--data', target)
    expect([status, said]).toEqual([1, expect.stringMatching(words)])
    expect(existsSync(target)).toBe(false)
    expect(readdirSync(places).filter((each) => each.includes('.restoring-'))).toEqual([])
  })

  test('goes to the real folder unless told otherwise, and never over what is there', async () => {
    expect((await run('restore', file)).said).toContain(join('.data', 'main'))
    expect(there(join(places, '.data', 'main'))).toContain('Relay sticks')
    expect(existsSync(join(places, '.data', 'demo'))).toBe(false)
    expect((await run('restore', file)).said).toContain('is not empty')
  })
})

describe('a row of backups', () => {
  test('keeps as many as it was told to, and each was restored for a trial', async () => {
    const row = join(places, 'row')
    mkdirSync(row)
    for (const old of ['dystracer-20260101-000000.tgz', 'dystracer-20260102-000000.tgz', 'mine.txt']) writeFileSync(join(row, old), 'old')
    const left = join(app.dataDir, 'backup-abc123')
    mkdirSync(left)
    utimesSync(left, 1, 1)
    const made = await run('backup', row, '--keep', '2', '--data', app.dataDir)
    expect(made.said).toContain('rehearsed')
    expect(made.said).toContain('removed dystracer-20260101-000000.tgz')
    expect(readdirSync(row)).toHaveLength(3)
    expect(existsSync(left)).toBe(false)
    expect(readdirSync(app.dataDir).filter((name) => /^(?:backup|rehearsal)-/.test(name))).toEqual([])
    const last = JSON.parse(readFileSync(join(app.dataDir, 'last-backup.json'), 'utf8')) as { atMs: number; rehearsedAtMs: number }
    expect(last.rehearsedAtMs).toBeGreaterThanOrEqual(last.atMs)
  })

  test('keeps the old ones where the new one cannot be restored', async () => {
    const row = join(places, 'broken row')
    mkdirSync(row)
    writeFileSync(join(row, 'dystracer-99990101-000000.tgz'), 'not a backup')
    const made = await run('backup', row, '--keep', '1', '--data', app.dataDir)
    expect(made.status).toBe(1)
    expect(readdirSync(row)).toHaveLength(2)
  })

  test.each([
    [['--keep', 'many'], '--keep must be'],
    [['--every', 'day'], '--every must be'],
  ])('refuses %s', async (options, words) => {
    expect((await run('backup', join(places, 'none'), ...options, '--data', app.dataDir)).said).toContain(words)
  })
})
