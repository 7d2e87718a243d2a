import { afterEach, describe, expect, test } from '@jest/globals'
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, statSync, truncateSync, utimesSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { buildContext } from '#context'
import { makeConfig } from '#platform/config/config'
import { openMainDb } from '#platform/db/open'
import { sweepBlobs, blobPath } from '#subjects/talk/blobs'
import { startApp, type App } from './app-harness.js'

const CLI = join(import.meta.dirname, '../cli/main.js')
const DEMO = join(import.meta.dirname, '../../../demo/dist/main.js')
const dirs: string[] = []
const apps: App[] = []
afterEach(async () => {
  for (const app of apps.splice(0)) await app.stop()
  for (const dir of dirs.splice(0)) rmSync(dir, { recursive: true, force: true })
})
function makeDir(): string {
  const dir = mkdtempSync(join(tmpdir(), 'dystracer-kept-'))
  dirs.push(dir)
  return dir
}
async function begin(): Promise<App> {
  const app = await startApp()
  apps.push(app)
  return app
}
const run = (...args: string[]) =>
  spawnSync(process.execPath, [args[0] === 'demo' ? DEMO : CLI, ...args], {
    encoding: 'utf8',
    timeout: 20_000,
    env: { ...process.env, NODE_OPTIONS: '' },
  })
const configOf = (dataDir: string) => ({ ...makeConfig('real', { DYSTRACER_LOG: 'silent', DYSTRACER_REQUESTS_PER_MINUTE: 0 }), dataDir })

describe('an attached file', () => {
  const text = 'What the panel said, line by line.\n'
  const sha256 = createHash('sha256').update(text).digest('hex')
  const attach = async (app: App, key: string) =>
    (await app.asks('rafe'))(`/items/${key}/attachments?name=panel.txt`, {
      method: 'POST',
      raw: text,
      headers: { 'content-type': 'application/octet-stream' },
    })
  const item = async (app: App) =>
    (await (await app.asks('rafe'))('/items', { method: 'POST', body: { title: 'Panel' } })).body.key as string

  test('that a crash cut short is put right when it is attached again, and verify names it until then', async () => {
    const app = await begin()
    const key = await item(app)
    expect((await attach(app, key)).status).toBe(201)
    const path = blobPath(app.dataDir, sha256)
    truncateSync(path, 5)
    const verified = run('verify', '--data', app.dataDir)
    expect([verified.status, verified.stdout]).toEqual([1, expect.stringContaining(`panel.txt of ${key} is not there as it was attached`)])
    await attach(app, key)
    expect(statSync(path).size).toBe(text.length)
    expect(run('verify', '--data', app.dataDir).status).toBe(0)
  })

  test('that nothing stands for is swept after a day, and no other', async () => {
    const app = await begin()
    await attach(app, await item(app))
    const stray = blobPath(app.dataDir, 'f'.repeat(64))
    mkdirSync(join(stray, '..'), { recursive: true })
    const fresh = `${stray}0`
    for (const path of [stray, fresh]) writeFileSync(path, 'x')
    const twoDaysAgo = app.clock.nowMs / 1000 - 2 * 86_400
    for (const path of [stray, blobPath(app.dataDir, sha256)]) utimesSync(path, twoDaysAgo, twoDaysAgo)
    expect(await sweepBlobs(app.ctx)).toBe(1)
    expect([stray, fresh, blobPath(app.dataDir, sha256)].map((path) => existsSync(path))).toEqual([false, true, true])
  })
})

describe('a data folder', () => {
  test('is for one writer at a time, and free again once that one is gone', async () => {
    const dataDir = makeDir()
    const first = buildContext(configOf(dataDir))
    const second = run('start', '--data', dataDir, '--port', '4768')
    expect([second.status, second.stderr]).toEqual([1, expect.stringContaining('another Dystracer works on')])
    await first.close()
    await buildContext(configOf(dataDir)).close()
  })

  test('and what lies in it are readable by their owner alone', async () => {
    const dataDir = join(makeDir(), 'data')
    const child = run('start', '--data', dataDir, '--port', 'none')
    expect(child.status).toBe(1)
    await buildContext(configOf(dataDir)).close()
    expect(statSync(dataDir).mode & 0o077).toBe(0)
    const file = join(makeDir(), 'copy.tgz')
    expect(run('backup', file, '--data', dataDir).status).toBe(0)
    expect(statSync(file).mode & 0o077).toBe(0)
  })

  test('of a newer program is refused, with what to do', () => {
    const dataDir = makeDir()
    const db = openMainDb(join(dataDir, 'dystracer.db'))
    db.prepare(`INSERT INTO migration (name, checksum) VALUES ('9999-from-the-future.sql', 'x')`).run()
    db.close()
    expect(() => openMainDb(join(dataDir, 'dystracer.db'))).toThrow(/written by a newer version .*9999-from-the-future/)
    const token = run('token', '--name', 'x', '--data', dataDir)
    expect([token.status, token.stdout, token.stderr]).toEqual([1, '', expect.stringContaining('newer version')])
  })

  test('is copied before it is migrated; a command beside a server migrates nothing', () => {
    const dataDir = makeDir()
    const path = join(dataDir, 'dystracer.db')
    let db = openMainDb(path)
    db.exec(`DROP TABLE mail_try; DROP TABLE mail_refusal; DELETE FROM migration WHERE name = '0008-mail-refusals.sql'`)
    db.close()
    const token = run('token', '--name', 'x', '--data', dataDir)
    expect([token.status, token.stderr]).toEqual([1, expect.stringContaining('start the server once')])
    expect(readdirSync(dataDir).filter((name) => name.startsWith('before-'))).toEqual([])
    db = openMainDb(path)
    expect(db.prepare('SELECT count(*) AS n FROM mail_try').pluck().get()).toBe(0)
    db.close()
    expect(readdirSync(dataDir)).toContain('before-0008-mail-refusals.db')
  })
})

test('a token for what makes no sense is refused with the reason, and none is made', async () => {
  const app = await begin()
  const wrong = (...args: string[]) => run('token', '--name', 'x', '--data', app.dataDir, ...args)
  expect(wrong('--scope', 'everything').stderr).toContain('--scope must be one of intake')
  expect(wrong('--scope', 'evidence', '--service', 'kiln').stderr).toContain('Only telemetry is held to services')
  expect(wrong('--project', 'NONE').stderr).toContain('there is no project NONE')
  expect(wrong('--days', 'soon').status).toBe(1)
  const made = run(
    'token',
    '--name',
    'x',
    '--data',
    app.dataDir,
    '--scope',
    'telemetry',
    '--project',
    'EMB',
    '--service',
    'kiln',
    '--days',
    '2',
  )
  expect(made.stdout).toMatch(/^dys_\S+\n$/)
})

test('the demo does not listen where others reach it unless that is said', () => {
  const dataDir = makeDir()
  const refused = run('demo', '--host', '0.0.0.0', '--data', dataDir)
  expect([refused.status, refused.stderr]).toEqual([1, expect.stringContaining('--yes-anyone-may-sign-in')])
  expect(readdirSync(dataDir)).toEqual([])
})
