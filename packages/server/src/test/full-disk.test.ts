import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { spawnSync } from 'node:child_process'
import { appendFileSync, mkdirSync, mkdtempSync, rmSync, statfsSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { verifyTables } from '#verify-tables'
import { connectRepository, exceptionRequest, startApp, TestRepository, type App } from './app-harness.js'

/**
 * A data folder on a small disk of its own, which only root can mount. Elsewhere this proves nothing, and says so instead of passing.
 */
const disk = mkdtempSync(join(tmpdir(), 'dystracer-disk-'))
const isMounted = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=64m', 'tmpfs', disk]).status === 0
const testOnDisk = isMounted ? test : test.skip

const KEPT_BYTES = 8 * 2 ** 20
const filler = join(disk, 'filler')
const freeBytes = () => statfsSync(disk).bavail * statfsSync(disk).bsize
/** Leaves so much room, or as little as there is. */
const leave = (bytes: number) => appendFileSync(filler, Buffer.alloc(Math.max(0, freeBytes() - bytes)))
let app: App
const repo = new TestRepository()

beforeAll(async () => {
  if (!isMounted) return
  repo.commit('tides.py', 'one\n', 'Begin')
  mkdirSync(join(disk, 'data'))
  app = await startApp({
    dataDir: join(disk, 'data'),
    config: { minFreeBytes: KEPT_BYTES, pollIntervalMs: 200, mailTrustedHosts: ['mx.emberwick.example'] },
  })
})
afterAll(async () => {
  if (isMounted) {
    await app.stop()
    spawnSync('umount', ['--lazy', disk])
  }
  rmSync(disk, { recursive: true, force: true })
  repo.remove()
})

const octets = { 'content-type': 'application/octet-stream' }
/** One of everything that writes, and how it was answered. */
async function everything(turn: string) {
  const ines = await app.asks('ines').catch(() => null)
  if (!ines) return { signIn: 507 }
  const head = `From: a@elsewhere.example\r\nTo: log@emberwick.example\r\nSubject: Kiln ${turn}\r\nMessage-ID: <${turn}@x>`
  const mail = `${head}\r\n\r\nIt is cold.\r\n`
  const answers = {
    item: await ines('/items', { method: 'POST', body: { title: `Relay ${turn}`, description: 'x'.repeat(20_000) } }),
    upload: await ines('/items/EMB-1/attachments?name=trace.txt', { method: 'POST', raw: 'x'.repeat(100_000), headers: octets }),
    import: await ines('/projects/EMB/imports?name=list.csv', { method: 'POST', raw: 'Title\nDoor\n', headers: octets }),
    mail: await app.call('/receive/mail', {
      method: 'POST',
      raw: mail,
      headers: { authorization: `Bearer ${token.mail}`, 'content-type': 'message/rfc822' },
    }),
    telemetry: await app.call('/otlp/v1/logs', {
      method: 'POST',
      raw: JSON.stringify(exceptionRequest({ message: `probe ${turn}`, atMs: app.clock.nowMs })),
      headers: { authorization: `Bearer ${token.intake}`, 'content-type': 'application/json' },
    }),
    reading: await ines('/items'),
  }
  return Object.fromEntries(Object.entries(answers).map(([name, answer]) => [name, answer.status]))
}
const token = { mail: '', intake: '' }

testOnDisk('a disk that fills up refuses big things early and writes late, answers reading, and goes on when there is room', async () => {
  token.mail = app.token('mail')
  token.intake = app.token('intake')
  const well = { item: 201, upload: 201, import: 201, mail: 202, telemetry: 200, reading: 200 }
  expect(await everything('before')).toEqual(well)

  // Little is left: what people write by hand is still taken.
  leave(KEPT_BYTES - 2 ** 20)
  expect(await everything('low')).toEqual({ ...well, upload: 507, import: 507, mail: 507, telemetry: 503 })
  expect((await app.call('/readyz')).body).toMatchObject({ disk: 'nearly full' })
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  const ines = await app.asks('ines')
  expect((await ines('/repositories')).body.rows[0].trouble).toContain('MiB left')

  // Nothing is left: every write is refused in words, nothing ends, and what was asked to be read is read.
  leave(0)
  let refused = await ines('/items', { method: 'POST', body: { title: 'Filling', description: 'x'.repeat(60_000) } })
  for (let turn = 0; refused.status === 201 && turn < 200; turn++)
    refused = await ines('/items', { method: 'POST', body: { title: `Filling ${turn}`, description: 'x'.repeat(60_000) } })
  expect(refused.body).toMatchObject({ status: 507, code: 'disk-full' })
  expect(refused.headers.get('retry-after')).toBe('60')
  expect((await ines('/items')).status).toBe(200)
  expect((await ines('/items?filter=relay')).body.rows.map((row: { title: string }) => row.title)).toContain('Relay before')
  await app.server.sync.request('kiln', 'test')
  expect((await app.call('/healthz')).status).toBe(200)

  rmSync(filler)
  expect(await everything('after')).toEqual(well)
  await app.server.sync.request('kiln', 'test')
  expect((await ines('/repositories')).body.rows[0]).toMatchObject({ trouble: null, commits: 1 })
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
})
