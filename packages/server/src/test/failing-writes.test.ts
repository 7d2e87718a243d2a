import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openVolumeDb, type Db } from '#platform/db/open'
import { TABLE_CLASSES } from '#platform/db/table-classes'
import { forgetGraphs } from '#subjects/code/commit-facts'
import { ReleaseCode } from '#subjects/git/index'
import { readOtlp } from '#subjects/telemetry/read-otlp'
import { VolumeWriter } from '#subjects/occurrences/volume-writer'
import { verifyTables } from '#verify-tables'
import { connectRepository, exceptionRequest, startApp, TestRepository, until, type App, type Asked } from './app-harness.js'

/**
 * Every write of a piece of work is made to fail once, one after the other; then the same work is sent again, as its sender would. What
 * stands in the tables afterwards is what stands there where nothing ever failed.
 */
const repo = new TestRepository()
repo.commit('src/probe.js', 'one\n', 'Begin')
repo.git('checkout', '--quiet', '-b', 'fix/EMB-1-relay')
repo.commit('src/probe.js', 'two\n', 'Open the relay\n\nFixes: EMB-1\nTime: 15m')
repo.git('checkout', '--quiet', 'main')
repo.git('merge', '--quiet', '--no-ff', 'fix/EMB-1-relay')
repo.git('tag', 'v1.0.1')

/** Sign-ins and tokens are not part of what is sent, but of who sends it. */
const isSecret = (table: string) => (TABLE_CLASSES.secret as readonly string[]).includes(table)

function tablesOf(db: Db): string[] {
  return db
    .prepare<[], { name: string }>(
      `SELECT name FROM main.sqlite_master
        WHERE type = 'table' AND name NOT LIKE 'sqlite%'
        AND (name NOT LIKE '%!_search%' ESCAPE '!' OR name LIKE '%search_row') ORDER BY name`,
    )
    .all()
    .map((row) => row.name)
}

/** Triggers of the connection itself call a function before each write, so that no product code knows of it. */
class FailingWrites {
  seen = 0
  #failAt = Number.POSITIVE_INFINITY

  constructor(db: Db) {
    db.function('count_write', () => {
      if (++this.seen === this.#failAt) throw new Error('the disk said no')
      return 0
    })
    for (const name of tablesOf(db).filter((table) => !isSecret(table)))
      for (const act of ['INSERT', 'UPDATE', 'DELETE'])
        db.exec(`CREATE TEMP TRIGGER fail_${name}_${act} BEFORE ${act} ON main.${name} BEGIN SELECT count_write(); END`)
  }

  failAt(nth: number): void {
    this.seen = 0
    this.#failAt = nth
  }
}

const KEPT_APART = new Set<string>([...TABLE_CLASSES.secret, 'meta', 'mail_try'])
/** All rows of all tables, caches included; ids that are drawn and the clock's own are left out. */
function dump(db: Db): string {
  const rows = tablesOf(db)
    .filter((name) => !KEPT_APART.has(name))
    .map((name) => [
      name,
      db
        .prepare<[], object>(`SELECT * FROM main.${name}`)
        .all()
        .map((row) => JSON.stringify(row))
        .sort(),
    ])
  return JSON.stringify(rows, null, 1).replace(/[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}/g, 'drawn')
}

interface Work {
  /** What has to be there already. */
  prepare?: (app: App) => void
  /** Sends it; a failure is the sender's to see, and may be thrown. */
  send: (app: App) => Promise<unknown>
}
const token = (app: App, scope: 'mail' | 'intake') => ({ authorization: `Bearer ${app.token(scope)}` })
const MAIL = [
  'Authentication-Results: mx.emberwick.example; dmarc=pass header.from=emberwick.example',
  'From: Rafe <rafe@emberwick.example>',
  'To: log@emberwick.example',
  'Subject: Door card refused',
  'Message-ID: <1@x>',
  'Content-Type: text/plain; charset=utf-8',
  '',
  'It blinks red. See SAF-3.',
  '',
].join('\r\n')

const works: Record<string, Work> = {
  'a push': { prepare: (app) => connectRepository(app, 'kiln', repo.dir), send: (app) => app.server.sync.request('kiln', 'poll') },
  'a mail': {
    send: (app) =>
      app.call('/receive/mail', { method: 'POST', raw: MAIL, headers: { ...token(app, 'mail'), 'content-type': 'message/rfc822' } }),
  },
  'an import': {
    send: async (app) => {
      const call = (path: string, asked: Asked = {}) =>
        app.call(`/api/v1${path}`, { ...asked, headers: { authorization: `Bearer ${app.token('admin')}`, ...asked.headers } })
      const headers = { 'content-type': 'application/octet-stream' }
      const csv = 'Ticket,Summary,Parent,Tags\n7,Relay sticks,8,a\n8,Door card,,b\n'
      const begun = await call('/projects/EMB/imports?name=list.csv', { method: 'POST', raw: csv, headers })
      if (begun.status >= 400) return
      const { importId, mapping } = begun.body
      await call(`/imports/${importId}/run`, { method: 'POST', body: { mapping, values: {}, isTrial: false } })
      await until('the import is through', async () => !['trying', 'running'].includes((await call(`/imports/${importId}`)).body.phase))
    },
  },
}

const nowMs = 1_790_500_000_000
const config = { mailTrustedHosts: ['mx.emberwick.example'] }
let app: App
let writes: FailingWrites
beforeAll(async () => {
  app = await startApp({ config, nowMs })
  await (await app.as('rafe'))('/api/v1/items', { method: 'POST', body: { title: 'Relay stays closed' } })
  app.ctx.db.prepare('VACUUM INTO ?').run(join(app.dataDir, 'before.db'))
  app.ctx.db.prepare('ATTACH ? AS before').run(join(app.dataDir, 'before.db'))
  writes = new FailingWrites(app.ctx.db)
})
afterAll(async () => {
  await app.stop()
  repo.remove()
})

/** Everything as it was before the work: the tables, and what is remembered of them. */
function goBack(): void {
  const { db } = app.ctx
  db.pragma('foreign_keys = OFF')
  db.transaction(() => {
    for (const name of ['item_search', 'comment_search', ...tablesOf(db)]) {
      db.exec(`DELETE FROM main.${name}`)
      const columns = db.prepare<[], { name: string }>(`SELECT name FROM pragma_table_info('${name}')`).all()
      const list = [...(name.endsWith('_search') ? ['rowid'] : []), ...columns.map((column) => column.name)].join(', ')
      db.exec(`INSERT INTO main.${name} (${list}) SELECT ${list} FROM before.${name}`)
    }
  })()
  db.pragma('foreign_keys = ON')
  forgetGraphs(app.ctx)
}

describe.each(Object.entries(works))('%s', (_, { prepare, send }) => {
  test('whose n-th write fails and that is sent again leaves what a clean one leaves, for every n', async () => {
    goBack()
    prepare?.(app)
    writes.failAt(Number.POSITIVE_INFINITY)
    await send(app)
    const count = writes.seen
    const expected = dump(app.ctx.db)
    expect(count).toBeGreaterThan(5)
    for (let nth = 1; nth <= count; nth++) {
      goBack()
      prepare?.(app)
      writes.failAt(nth)
      await send(app).catch(() => {})
      expect(writes.seen).toBeGreaterThanOrEqual(nth)
      writes.failAt(Number.POSITIVE_INFINITY)
      await send(app)
      if (dump(app.ctx.db) !== expected) expect(`write ${nth} of ${count} failed: ${dump(app.ctx.db)}`).toBe(expected)
      expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
    }
  }, 120_000)
})

test('telemetry whose n-th write fails and that is sent again is counted and kept once, for every n', async () => {
  const dir = mkdtempSync(join(tmpdir(), 'dystracer-volume-'))
  const open = (name: string) => {
    const db = openVolumeDb(join(dir, name))
    const code = new ReleaseCode({ volume: db, main: app.ctx.db, mirrorsDir: join(dir, 'git') })
    // Two of a fault are kept whole in a minute; the third is counted only, and remembered by its hash.
    const writer = new VolumeWriter(db, { code, keepPerMinute: 2, pseudonymOf: (person) => person, readOwnScrub: () => undefined })
    return { db, writer, writes: new FailingWrites(db) }
  }
  const atMs = nowMs
  const bodies = [1, 2, 3, 4].map((nth) =>
    Buffer.from(JSON.stringify(exceptionRequest({ message: `probe ${nth} is open`, atMs: atMs + nth }))),
  )
  const send = ({ db, writer }: ReturnType<typeof open>) => {
    for (const body of bodies)
      try {
        db.transaction(() => {
          writer.take(readOtlp('logs', 'json', body), atMs)
          writer.flush()
        }).immediate()
        writer.settle()
      } catch (error) {
        writer.discard()
        throw error
      }
  }
  const clean = open('clean.db')
  clean.writes.failAt(Number.POSITIVE_INFINITY)
  send(clean)
  const count = clean.writes.seen
  const expected = dump(clean.db)
  send(clean)
  expect(dump(clean.db).replace(/cursor":\d+/g, '')).toBe(expected.replace(/cursor":\d+/g, ''))
  for (let nth = 1; nth <= count; nth++) {
    const { db, writer, writes } = open(`${nth}.db`)
    writes.failAt(nth)
    expect(() => send({ db, writer, writes })).toThrow('the disk said no')
    writes.failAt(Number.POSITIVE_INFINITY)
    send({ db, writer, writes })
    const shown = dump(db).replace(/cursor":\d+/g, '')
    if (shown !== expected.replace(/cursor":\d+/g, '')) expect(`write ${nth}: ${shown}`).toBe(expected)
    db.close()
  }
  clean.db.close()
  rmSync(dir, { recursive: true, force: true })
})
