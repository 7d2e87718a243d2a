import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { verifyTables } from '#verify-tables'
import { startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

/** What ties code to items beyond what messages name: lists by filter, commits that no item asked for, and what people make of them. */
const places = mkdtempSync(join(tmpdir(), 'dystracer-ties-'))
const bare = join(places, 'tides.git')
const work = new TestRepository()
let app: App
let ines: Ask
let rafe: Ask
let wren: Ask
const shas: Record<string, string> = {}
const keys: Record<string, string> = {}
const log = async (input: object): Promise<string> => (await rafe('/items', { method: 'POST', body: input })).body.key
const decide = (decisions: object[], ask = rafe) => ask('/repositories/tides/tie-decisions', { method: 'POST', body: { decisions } })
const unexplained = async (query = '') =>
  (await rafe(`/unexplained-commits?limit=50${query}`)).body.rows as { sha: string; proposals: { key: string }[] }[]
const commits = async (filter: string, ask = rafe) =>
  (await ask(`/commits?filter=${encodeURIComponent(filter)}`)).body.rows.map((row: { subject: string }) => row.subject)

beforeAll(async () => {
  execFileSync('git', ['init', '--quiet', '--bare', '--initial-branch=main', bare])
  app = await startApp({ config: { repositoriesDir: places } })
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
  wren = await app.asks('wren')
  keys.tide = await log({
    title: 'Low water is shown an hour late after the clock changed',
    description: 'The tide table adds the hour of summer time twice.',
  })
  keys.berth = await log({ title: 'Berth map shows boats on land', description: 'The map projection swaps north and east.' })
  keys.secret = await log({ title: 'Harbour master password printed in the log', isConfidential: true })
  shas.named = work.commit('tide/table.py', 'one\n', `Read the table\n\nItem: ${keys.tide}`)
  shas.late = work.commit('tide/table.py', 'two\n', 'Add the hour of summer time to low water once, not twice')
  shas.map = work.commit('berths/map.py', 'one\n', 'Do not swap north and east in the berth map')
  shas.bump = work.commit('package.json', '{}\n', 'bump deps')
  work.git('checkout', '--quiet', '-b', 'aside')
  shas.aside = work.commit('aside.py', 'x\n', 'Only tried')
  work.git('checkout', '--quiet', 'main')
  work.git('push', '--quiet', bare, 'main', 'aside')
  await ines('/projects/EMB/repositories', { method: 'POST', body: { url: bare } })
  await until('it was read', async () => (await ines('/repositories')).body.rows[0]?.commits === 5)
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  rmSync(places, { recursive: true, force: true })
  work.remove()
})

describe('commits that no item asked for', () => {
  test('are those of main lines alone, newest first, with the items that they may be for', async () => {
    const rows = await unexplained()
    expect(rows.map(({ sha }) => sha)).toEqual([shas.bump, shas.map, shas.late])
    expect(rows[1]?.proposals[0]).toMatchObject({ key: keys.berth, reasons: expect.arrayContaining(['words']) })
    expect(rows[2]?.proposals[0]).toMatchObject({ key: keys.tide, reasons: expect.arrayContaining(['words', 'files']) })
  })

  test('are counted on the desk of who may tie them, as far as they are of the last week', async () => {
    const count = async (ask: Ask) => (await ask('/desk')).body.unexplained
    const nowMs = app.clock.nowMs
    const newest = app.ctx.db.prepare('SELECT max(committed_at_ms) FROM git_commit').pluck().get() as number
    app.clock.nowMs = newest + 3_600_000
    expect([await count(rafe), await count(wren)]).toEqual([3, 0])
    app.clock.nowMs = newest + 9 * 86_400_000
    expect(await count(rafe)).toBe(0)
    app.clock.nowMs = nowMs
  })

  test('are told to readers, who may decide nothing', async () => {
    expect((await wren('/unexplained-commits')).body.rows).toHaveLength(3)
    expect((await decide([{ what: 'needs-none', sha: shas.bump }], wren)).status).toBe(403)
  })

  test('never propose an item that the asker may not see', async () => {
    const sha = work.commit('log.py', 'x\n', 'Do not print the harbour master password in the log')
    work.git('push', '--quiet', bare, 'main')
    await app.server.sync.request('tides', 'test')
    const proposed = async (ask: Ask) => (await ask('/unexplained-commits')).body.rows[0].proposals.map((each: { key: string }) => each.key)
    expect(await proposed(rafe)).toContain(keys.secret)
    expect(await proposed(wren)).not.toContain(keys.secret)
    expect((await decide([{ what: 'tie', sha, key: keys.secret ?? '' }], rafe)).body).toEqual({ done: 1 })
    expect((await wren(`/ties?kind=commit&id=tides/${sha}`)).body.rows).toEqual([])
  })

  test('leave the list when they are tied, and come back when that is undone', async () => {
    expect((await decide([{ what: 'tie', sha: shas.map, key: keys.berth }])).body).toEqual({ done: 1 })
    expect((await unexplained()).map(({ sha }) => sha)).not.toContain(shas.map)
    const { rows } = (await rafe(`/ties?kind=commit&id=tides/${shas.map}`)).body
    expect(rows).toMatchObject([{ from: { kind: 'item', id: keys.berth }, provenance: 'person', statedBy: 'person:rafe' }])
    await rafe(`/items/${keys.berth}/links/${rows[0].linkId}`, { method: 'DELETE' })
    expect((await unexplained()).map(({ sha }) => sha)).toContain(shas.map)
  })

  test('are not proposed again for what somebody refused', async () => {
    await decide([{ what: 'refuse', sha: shas.late, key: keys.tide }])
    const row = (await unexplained()).find(({ sha }) => sha === shas.late)
    expect(row?.proposals.map(({ key }) => key)).not.toContain(keys.tide)
  })

  test('can be told to need none, and to need one after all', async () => {
    await decide([{ what: 'needs-none', sha: shas.bump }])
    expect((await unexplained()).map(({ sha }) => sha)).not.toContain(shas.bump)
    expect((await rafe(`/ties?kind=commit&id=tides/${shas.bump}`)).body).toEqual({ rows: [], needsNone: true })
    expect(await commits('excused')).toEqual(['bump deps'])
    await decide([{ what: 'needs-one', sha: shas.bump }])
    expect((await unexplained()).map(({ sha }) => sha)).toContain(shas.bump)
  })

  test('are decided all or none: what is not there refuses the whole', async () => {
    const wrong = await decide([
      { what: 'needs-none', sha: shas.bump },
      { what: 'tie', sha: 'f'.repeat(40), key: keys.tide },
    ])
    expect(wrong.status).toBe(404)
    expect((await decide([{ what: 'tie', sha: shas.bump, key: 'EMB-999' }])).status).toBe(404)
    expect((await decide([])).body.fields.decisions).toContain('Nothing was decided')
    expect((await unexplained()).map(({ sha }) => sha)).toContain(shas.bump)
  })

  test('page by a cursor', async () => {
    const first = (await rafe('/unexplained-commits?limit=1')).body
    const second = (await rafe(`/unexplained-commits?limit=5&cursor=${encodeURIComponent(first.nextCursor)}`)).body
    expect([...first.rows, ...second.rows].map(({ sha }: { sha: string }) => sha)).toEqual((await unexplained()).map(({ sha }) => sha))
  })
})

describe('lists of code', () => {
  test('of commits know author, path, item, age and what is tied', async () => {
    expect(await commits('path=berths/')).toEqual(['Do not swap north and east in the berth map'])
    expect(await commits(`item=${keys.tide}`)).toEqual(['Read the table'])
    expect(await commits('tied path=tide')).toEqual(['Read the table'])
    expect(await commits('untied "summer time"')).toHaveLength(1)
    expect(await commits('made<170d')).toHaveLength(6)
    expect(await commits('made>170d')).toEqual([])
    expect(await commits('not path=tide not path=log not path=aside untied')).toHaveLength(2)
    expect(await commits('author=nobody')).toEqual([])
    expect(await commits('repository=tides merge')).toEqual([])
  })

  test('know nothing of items that the asker may not see', async () => {
    expect(await commits(`item=${keys.secret}`)).toHaveLength(1)
    expect(await commits(`item=${keys.secret}`, wren)).toEqual([])
  })

  test('of branches and pull requests filter likewise', async () => {
    const branches = async (filter: string) =>
      (await rafe(`/branches?filter=${encodeURIComponent(filter)}`)).body.rows.map((row: { name: string }) => row.name)
    expect((await branches('')).sort()).toEqual(['aside', 'main'])
    expect(await branches('not main')).toEqual(['aside'])
    expect(await branches('asi untied moved<170d')).toEqual(['aside'])
    const { number } = (await rafe('/pull-requests', { method: 'POST', body: { repository: 'tides', source: 'aside', title: 'Try it' } }))
      .body
    const asked = async (filter: string) =>
      (await rafe(`/pull-requests?filter=${encodeURIComponent(filter)}`)).body.rows.map((row: { number: number }) => row.number)
    expect(await asked('open branch=aside into=main')).toEqual([number])
    expect(await asked('merged')).toEqual([])
    expect(await asked(`number=${number} "Try it"`)).toEqual([number])
  })

  test('say where a filter stops making sense', async () => {
    const wrong = await rafe(`/commits?filter=${encodeURIComponent('severity=1')}`)
    expect(wrong.status).toBe(400)
    expect(wrong.body).toMatchObject({ code: 'filter-not-understood', facts: { from: 0 } })
  })

  test('a branch is tied and untied by hand', async () => {
    const tied = await rafe(`/items/${keys.berth}/links`, {
      method: 'POST',
      body: { kind: 'tied', to: { kind: 'branch', id: 'tides/aside' } },
    })
    expect(tied.status).toBe(200)
    expect((await rafe('/ties?kind=branch&id=tides/aside')).body.rows).toMatchObject([{ from: { id: keys.berth } }])
    expect(
      (await rafe(`/items/${keys.berth}/links`, { method: 'POST', body: { kind: 'tied', to: { kind: 'branch', id: 'tides/gone' } } }))
        .status,
    ).toBe(422)
  })
})
