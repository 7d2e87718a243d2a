import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { connectRepository, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

let app: App
let repo: TestRepository
let ines: Ask
let rafe: Ask
let wren: Ask
const lock = (packages: Record<string, string>) =>
  JSON.stringify({
    lockfileVersion: 3,
    packages: Object.fromEntries(Object.entries(packages).map(([name, version]) => [`node_modules/${name}`, { version }])),
  })

/** Three releases: koa 2 at first, koa 3 and a folder in another language later; the last changes no lock file. */
beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  ;[ines, rafe, wren] = await Promise.all([app.asks('ines'), app.asks('rafe'), app.asks('wren')])
  repo.commit('package-lock.json', lock({ koa: '2.15.0', '@babel/core': '7.26.0' }), 'Begin')
  repo.git('tag', 'v1.0.0')
  repo.commit('package-lock.json', lock({ koa: '3.0.0', '@babel/core': '7.26.0' }), 'A newer koa')
  repo.commit('tools/Cargo.lock', '[[package]]\nname = "serde"\nversion = "1.0.210"\n', 'Tools')
  repo.commit('broken/yarn.lock', 'no lock at all', 'A file that is none')
  repo.git('tag', 'v1.1.0')
  repo.commit('src/kiln.js', 'one\n', 'Heat')
  repo.git('tag', 'v1.2.0')
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  await until('the releases are known', async () => (await ines('/releases')).body.services[0]?.releases.length === 3)
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})
const send = (release: string, bill: unknown, ask = ines) =>
  ask(`/releases/${release}/bill`, {
    method: 'PUT',
    raw: typeof bill === 'string' || bill instanceof Uint8Array ? bill : JSON.stringify(bill),
    headers: { 'content-type': 'application/vnd.cyclonedx+json' },
  })
const found = async (q: string, ask = ines) => (await ask(`/packages?q=${encodeURIComponent(q)}`)).body

describe('what a release is made of', () => {
  test('is read from the lock files of its commit, also those that cannot be read are named', async () => {
    const { body } = await wren('/releases/kiln@1.1.0/packages')
    expect(body.rows.map((row: { purl: string }) => row.purl)).toEqual([
      'pkg:npm/%40babel/core@7.26.0',
      'pkg:npm/koa@3.0.0',
      'pkg:cargo/serde@1.0.210',
    ])
    expect(body.files).toEqual([
      { path: 'package-lock.json', type: 'npm', packages: 2 },
      { path: 'tools/Cargo.lock', type: 'cargo', packages: 1 },
    ])
    expect(body.unreadable).toEqual(['broken/yarn.lock'])
    const first = (await wren('/releases/kiln@1.1.0/packages?limit=2')).body
    expect(first.rows).toHaveLength(2)
    const next = (await wren(`/releases/kiln@1.1.0/packages?limit=2&cursor=${first.nextCursor}`)).body
    expect(next).toMatchObject({ rows: [{ name: 'serde', files: ['tools/Cargo.lock'] }], nextCursor: null })
    expect((await wren('/releases/kiln@1.1.0/packages?q=KO')).body.rows.map((row: { name: string }) => row.name)).toEqual(['koa'])
    expect((await wren('/releases/kiln@9/packages')).status).toBe(404)
  })

  test('goes out as a bill of materials that is the same each time', async () => {
    const answer = await wren('/releases/kiln@1.1.0/bill.cdx.json')
    expect(answer.headers.get('content-type')).toContain('application/vnd.cyclonedx+json')
    expect(answer.headers.get('content-disposition')).toBe('attachment; filename="kiln-1.1.0.cdx.json"')
    expect(JSON.parse(answer.text).components.map((one: { name: string }) => one.name)).toEqual(['core', 'koa', 'serde'])
    expect((await wren('/releases/kiln@1.1.0/bill.cdx.json')).text).toBe(answer.text)
  })
})

describe('which releases contain a package', () => {
  test('is answered by name, with a version, or by a Package URL; the newest release first', async () => {
    const koa = await found('koa')
    expect(koa).toMatchObject({ versions: ['3.0.0', '2.15.0'], unread: 0, nextCursor: null })
    expect(koa.rows.map(({ release, versions }: { release: string; versions: string[] }) => [release, versions])).toEqual([
      ['1.2.0', ['3.0.0']],
      ['1.1.0', ['3.0.0']],
      ['1.0.0', ['2.15.0']],
    ])
    for (const asked of ['koa@2.15.0', 'KOA@2.15.0', 'pkg:npm/koa@2.15.0'])
      expect((await found(asked)).rows.map((row: { release: string }) => row.release)).toEqual(['1.0.0'])
    expect((await found('@babel/core')).rows).toHaveLength(3)
    expect(await found('leftover')).toMatchObject({ rows: [], versions: [] })
    expect((await ines('/packages')).status).toBe(422)
  })

  test('pages, and says where each runs', async () => {
    const first = (await ines('/packages?q=koa&limit=2')).body
    const next = (await ines(`/packages?q=koa&limit=2&cursor=${first.nextCursor}`)).body
    expect([...first.rows, ...next.rows].map((row: { release: string }) => row.release)).toEqual(['1.2.0', '1.1.0', '1.0.0'])
    app.ctx.journal.write((writer) => {
      const common = { actor: 'source:deployer', subjects: [] }
      const at = { service: 'kiln', release: '1.1.0', environment: 'production' }
      writer.append({ ...common, kind: 'deployment-seen', body: { deploymentId: 'd-1', ...at, state: 'running' } as never })
    })
    expect((await found('koa@3.0.0')).rows[1]).toMatchObject({ release: '1.1.0', runsIn: ['production'] })
  })
})

describe('a bill of materials that is sent', () => {
  const BILL = {
    bomFormat: 'CycloneDX',
    specVersion: '1.5',
    components: [
      { type: 'library', name: 'openssl', version: '3.0.15', purl: 'pkg:generic/openssl@3.0.15' },
      { type: 'library', name: 'koa', version: '2.15.0', purl: 'pkg:npm/koa@2.15.0' },
      { type: 'file', name: 'panel.bin' },
    ],
  }

  test('stands beside the lock files, in the place of an earlier one, until it is taken back', async () => {
    // Some programs write a mark of the byte order in front.
    expect(await send('kiln@1.0.0', `\ufeff${JSON.stringify(BILL)}`)).toMatchObject({
      status: 200,
      body: { packages: 2, withoutVersion: 1 },
    })
    const { body } = await ines('/releases/kiln@1.0.0/packages')
    expect(body.bill).toMatchObject({ by: 'Ines Okafor', packages: 2 })
    expect(
      body.rows.map((row: { name: string; files: string[]; isBilled: boolean }) => [row.name, row.files.length, row.isBilled]),
    ).toEqual([
      ['@babel/core', 1, false],
      ['koa', 1, true],
      ['openssl', 0, true],
    ])
    expect((await found('openssl')).rows).toMatchObject([{ release: '1.0.0', versions: ['3.0.15'] }])
    await send('kiln@1.0.0', { ...BILL, components: [] })
    expect((await found('openssl')).rows).toEqual([])
    expect((await ines('/releases/kiln@1.0.0/bill', { method: 'DELETE' })).status).toBe(200)
    expect((await ines('/releases/kiln@1.0.0/packages')).body.bill).toBeNull()
    expect((await ines('/releases/kiln@1.0.0/bill', { method: 'DELETE' })).status).toBe(404)
  })

  test('that is none, or comes from who may not, is refused, and nothing is stored', async () => {
    expect(await send('kiln@1.0.0', '{"spdxVersion":"SPDX-2.3"}')).toMatchObject({
      status: 400,
      body: { detail: expect.stringContaining('no CycloneDX') },
    })
    expect((await send('kiln@1.0.0', new Uint8Array([0x7b, 0xff]))).body.detail).toContain('no UTF-8')
    expect((await send('kiln@1.0.0', BILL, rafe)).status).toBe(403)
    expect((await send('kiln@9', BILL)).status).toBe(404)
    expect((await ines('/releases/kiln@1.0.0/packages')).body.bill).toBeNull()
  })
})

test('releases that git cannot tell of do not keep older ones from being read', async () => {
  repo.git('tag', 'v0.9.0', 'v1.0.0')
  await app.server.sync.request('kiln', 'test')
  app.clock.nowMs += 1000
  app.ctx.journal.write((writer) => {
    for (let at = 10; at < 80; at++)
      writer.append({
        actor: 'source:git',
        subjects: [],
        kind: 'release-found',
        body: { service: 'kiln', name: `9.${at}.0`, tag: `v9.${at}.0`, sha: String(at).padStart(40, '0'), isRewritten: false },
      })
  })
  // The newest are tried first, and behind the older ones from then on.
  expect((await found('koa@2.15.0')).unread).toBe(11)
  expect((await found('koa@2.15.0')).rows.map((row: { release: string }) => row.release)).toContain('0.9.0')
})

test('a tag that is moved is read anew', async () => {
  repo.commit('package-lock.json', lock({ koa: '3.1.0' }), 'Newer still')
  repo.git('tag', '-f', 'v1.2.0')
  await app.server.sync.request('kiln', 'test')
  await until('the tag is read', async () => (await ines('/releases/kiln@1.2.0')).body.isRewritten === true)
  expect((await found('koa@3.1.0')).rows.map((row: { release: string }) => row.release)).toEqual(['1.2.0'])
  expect((await found('koa@3.0.0')).rows.map((row: { release: string }) => row.release)).toEqual(['1.1.0'])
})
