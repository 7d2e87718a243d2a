import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { checkBundle } from '#subjects/releases/record-bundle'
import { verifyTables } from '#verify-tables'
import { cloudEvent, connectRepository, exceptionRequest, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

let app: App
let repo: TestRepository
let ines: Ask
let wren: Ask
const LOCK = (version: string) => JSON.stringify({ lockfileVersion: 3, packages: { '': {}, 'node_modules/koa': { version } } })

/** 1.0.0 ← 1.1.0 on the main line; 1.0.1 is a maintenance line that picked one fix of it. 1.2.0 takes back another. */
beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  ines = await app.asks('ines')
  wren = await app.asks('wren')
  for (const body of [
    { title: 'Relay sticks', requirement: 'SAF-3' },
    { title: 'Panel in Welsh', type: 'task' },
    { title: 'Door left unlocked', isConfidential: true },
  ])
    expect((await ines('/items', { method: 'POST', body: { project: 'EMB', ...body } })).status).toBe(201)
  repo.commit('package-lock.json', LOCK('2.0.0'), 'Begin')
  repo.git('tag', 'v1.0.0')
  const relay = repo.commit('src/relay.js', 'one\n', 'Let the relay go\n\nFixes: EMB-1')
  repo.commit('db/migrations/0002.sql', 'SELECT 1;\n', 'Speak Welsh\n\nFixes: EMB-2')
  const door = repo.commit('src/door.js', 'one\n', 'Lock the door\n\nFixes: EMB-3')
  repo.commit('package-lock.json', LOCK('3.0.0'), 'A newer koa')
  repo.git('tag', 'v1.1.0')
  repo.git('checkout', '--quiet', '-b', 'maintain', 'v1.0.0')
  repo.commit('CHANGES', 'x\n', 'Say what changed')
  repo.git('cherry-pick', relay)
  repo.git('tag', 'v1.0.1')
  repo.git('checkout', '--quiet', 'main')
  repo.git('revert', '--no-edit', door)
  repo.git('tag', 'v1.2.0')
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  await until('the releases are known', async () => (await ines('/releases')).body.services[0].releases.length === 4)
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

interface Contents {
  items: { key: string; requirements: string[] }[]
  lost: { key: string }[]
  commits: { subject: string; as: string; items: string[] }[]
}
const contents = async (release: string, against = '', ask = ines): Promise<Contents & Record<string, unknown>> =>
  (await ask(`/releases/kiln@${release}/contents?against=${against}`)).body
const keys = (rows: { key: string }[]) => rows.map((row) => row.key).sort()
let deployments = 0
async function runs(release: string, environment: string): Promise<void> {
  const data = { deploymentId: `d${++deployments}`, service: 'kiln', release, environment }
  const answer = await app.call('/receive/cloudevents', {
    method: 'POST',
    headers: { authorization: `Bearer ${app.token('evidence')}`, 'content-type': 'application/cloudevents+json' },
    raw: JSON.stringify(cloudEvent('dev.cdevents.service.deployed.0.2.0', `run-${deployments}`, data, app.clock.nowMs)),
  })
  expect(answer.body.events[0]).toMatchObject({ outcome: 'taken' })
  app.clock.nowMs += 60_000
}

describe('what a release holds', () => {
  test('is told against the one that it builds on: items, what asked for them, commits for nothing, files, dependencies', async () => {
    const held = await contents('1.1.0')
    expect(held).toMatchObject({
      against: { release: '1.0.0', runsIn: null },
      requirements: ['SAF-3'],
      counts: { added: 4, removed: 0, forNothing: 1 },
      authors: [{ name: 'Ines Okafor', commits: 4 }],
      files: { schema: ['db/migrations/0002.sql'], changed: 4 },
      dependencies: [{ name: 'koa', from: '2.0.0', to: '3.0.0' }],
    })
    expect(keys(held.items)).toEqual(['EMB-1', 'EMB-2', 'EMB-3'])
    expect(held.items.find((item) => item.key === 'EMB-1')?.requirements).toEqual(['SAF-3'])
    expect(await contents('1.0.0')).toMatchObject({ against: null })
  })

  test('counts cherry-picks once, and what was reverted as gone', async () => {
    const held = await contents('1.1.0', '1.0.1')
    expect(keys(held.items)).toEqual(['EMB-2', 'EMB-3'])
    expect(held.commits.find((commit) => commit.as === 'again')?.subject).toBe('Let the relay go')
    expect(keys((await contents('1.2.0')).lost)).toEqual(['EMB-3'])
    expect(keys((await contents('1.0.0', '1.2.0')).lost)).toEqual(['EMB-1', 'EMB-2'])
  })

  test('is held against what an environment runs; an environment that runs nothing is said', async () => {
    await runs('1.0.1', 'production')
    expect(await contents('1.2.0', 'production')).toMatchObject({ against: { release: '1.0.1', runsIn: 'production' } })
    expect((await ines('/releases/kiln@1.2.0/contents?against=staging')).body.fields.against).toContain('nothing of it runs')
  })

  test('leaves out what the asker may not see', async () => {
    const held = await contents('1.1.0', '', wren)
    expect(keys(held.items)).toEqual(['EMB-1', 'EMB-2'])
    expect(JSON.stringify(held)).not.toContain('EMB-3')
  })
})

describe('notes', () => {
  const notes = async (reader = 'users') => (await ines(`/releases/kiln@1.1.0/notes?reader=${reader}`)).body
  const write = (body: object) => ines('/releases/kiln@1.1.0/notes', { method: 'PUT', body })

  test('are written from evidence, keep what people wrote, and never tell what is confidential', async () => {
    expect(JSON.stringify(await notes('auditors'))).not.toContain('Door')
    expect((await write({ key: 'EMB-2', text: 'The panel speaks **Welsh**.' })).status).toBe(200)
    expect((await write({ key: null, text: 'Please restart.' })).status).toBe(200)
    expect(await notes()).toMatchObject({
      intro: 'Please restart.',
      groups: [
        { title: 'New and changed', lines: [{ key: 'EMB-2', text: 'The panel speaks **Welsh**.', isWritten: true }] },
        { title: 'Fixed', lines: [{ key: 'EMB-1', text: 'Relay sticks', isWritten: false }] },
      ],
    })
    const markdown = await ines('/releases/kiln@1.1.0/notes.md?reader=users')
    expect(markdown.headers.get('content-type')).toContain('text/markdown')
    expect(markdown.text).toContain('- The panel speaks **Welsh**.')
    // The words are for users; others read what they read before.
    expect((await notes('operators')).intro).toBe('')
    expect((await write({ key: 'EMB-2', text: '' })).body.groups[0].lines[0]).toMatchObject({ text: 'Panel in Welsh', isWritten: false })
  })

  test('are refused for what is not in them, and from those who only read', async () => {
    expect((await write({ key: 'EMB-3', text: 'The door locks' })).body.fields.key).toContain('is not in the notes')
    expect((await wren('/releases/kiln@1.1.0/notes', { method: 'PUT', body: { key: null, text: 'x' } })).status).toBe(403)
  })

  test('are published as they read then, for everybody or readers of the project, as a page and a feed, and taken back', async () => {
    const place = '/releases/kiln@1.1.0/notes/publication'
    const publish = (ask: Ask, isPublic: boolean, reader = 'users') => ask(place, { method: 'PUT', body: { reader, isPublic } })
    const page = (path = '/api/v1/public/notes/kiln') => app.call(path)
    expect((await publish(wren, true)).status).toBe(403)
    expect((await page()).status).toBe(404)
    expect((await publish(ines, false)).body.published).toMatchObject({ isPublic: false, isCurrent: true })
    expect((await page()).body.detail).toBe('No notes of kiln are published.')
    expect((await page('/api/v1/public/notes/nothing')).body.detail).toBe('No notes of nothing are published.')
    expect((await wren('/public/notes/kiln')).body.rows).toHaveLength(1)
    expect((await page('/feeds/notes/kiln.atom')).status).toBe(404)

    await publish(ines, true)
    await publish(ines, true, 'operators')
    const open = (await page()).body
    expect(open).toMatchObject({ service: 'kiln', reader: 'users', readers: ['users', 'operators'], rows: [{ release: '1.1.0' }] })
    expect(open.rows[0].text).toMatch(/^# kiln 1/)
    for (const text of [JSON.stringify(open), (await page('/feeds/notes/kiln.atom')).text]) expect(text).not.toContain('Door')
    const feed = await page('/feeds/notes/kiln.atom')
    expect(feed.headers.get('content-type')).toContain('application/atom+xml')
    expect(feed.text).toContain('<title type="text">kiln 1.1.0</title>')

    // What is changed later shows once it is published anew.
    await write({ key: null, text: 'A quiet release.' })
    expect((await ines(`${place}?reader=users`)).body.published).toMatchObject({ isPublic: true, isCurrent: false })
    expect((await page()).body.rows[0].text).not.toContain('A quiet release.')
    await publish(ines, true)
    expect((await page()).body.rows[0].text).toContain('A quiet release.')

    expect((await ines(`${place}?reader=users`, { method: 'DELETE' })).body).toEqual({ published: null })
    expect((await page()).body).toMatchObject({ readers: ['operators'], rows: [] })
    await ines(`${place}?reader=operators`, { method: 'DELETE' })
    expect((await page()).status).toBe(404)
    expect((await ines(`${place}?reader=operators`, { method: 'DELETE' })).status).toBe(404)
  })
})

describe('how a release does', () => {
  const health = async (release: string) => (await ines(`/releases/kiln@${release}/health`)).body
  async function work(release: string, count: number): Promise<void> {
    const text = (key: string, value: string) => ({ key, value: { stringValue: value } })
    await app.call('/otlp/v1/logs', {
      method: 'POST',
      headers: { authorization: `Bearer ${app.token('telemetry')}` },
      body: {
        resourceLogs: [
          {
            resource: {
              attributes: [
                text('service.name', 'kiln'),
                text('service.version', release),
                text('deployment.environment.name', 'production'),
              ],
            },
            scopeLogs: [
              {
                logRecords: Array.from({ length: count }, (_, at) => ({
                  timeUnixNano: `${app.clock.nowMs + at}000000`,
                  severityNumber: 9,
                  body: { stringValue: 'fired' },
                })),
              },
            ],
          },
        ],
      },
    })
  }
  const fail = (release: string, count: number, message: string, place: string) =>
    app.call('/otlp/v1/logs', {
      method: 'POST',
      headers: { authorization: `Bearer ${app.token('telemetry')}` },
      body: exceptionRequest({ release, atMs: app.clock.nowMs, count, message, place }),
    })

  test('is said with its reasons: not run, too early, and then held against the one before by what was done', async () => {
    expect(await health('1.1.0')).toMatchObject({ verdict: 'not-run', newFaults: [] })
    await work('1.0.1', 400)
    await fail('1.0.1', 1, 'no reading', 'readCelsius (/srv/kiln/src/probe.js:5:31)')
    await runs('1.1.0', 'production')
    expect(await health('1.1.0')).toMatchObject({ verdict: 'too-early' })
    await runs('1.0.0', 'production')
    await work('1.0.0', 500)
    await runs('1.1.0', 'production')
    await work('1.1.0', 400)
    await fail('1.1.0', 20, 'no moon', 'phase (/srv/kiln/src/moon.js:5:3)')
    await until('it is known', async () => (await health('1.1.0')).newFaults.length === 1)
    const record = await health('1.1.0')
    expect(record).toMatchObject({ verdict: 'stop', against: '1.0.0', reasons: ['new-faults', 'fails-much-more'] })
    expect(record.newFaults[0]).toMatchObject({ message: 'no moon', occurrences: 20 })
    expect(record.after.perThousand).toBeCloseTo(50, 5)
  })

  test('what ran when stands on the board, with what was taken back', async () => {
    await runs('1.0.1', 'production')
    const { runs: spans } = (await ines('/releases')).body.services[0]
    expect(spans.map((span: { release: string; isTakenBack: boolean }) => [span.release, span.isTakenBack])).toEqual([
      ['1.0.1', false],
      ['1.1.0', true],
      ['1.0.0', false],
      ['1.1.0', true],
      ['1.0.1', false],
    ])
  })
})

describe('making a release', () => {
  const next = async () => (await ines('/services/kiln/next-release')).body
  const make = (body: object, ask = ines) => ask('/services/kiln/releases', { method: 'POST', body })

  test('is proposed with what would be in it and what speaks against it, and pushes its tag', async () => {
    const sha = repo.commit('src/panel.js', 'two\n', 'Draw the panel\n\nRefs: EMB-2')
    await app.server.sync.request('kiln', 'test')
    const proposed = await next()
    expect(proposed).toMatchObject({
      latest: '1.2.0',
      names: ['1.2.1', '1.3.0', '2.0.0'],
      tip: { sha, subject: 'Draw the panel' },
      commits: 1,
    })
    expect(keys(proposed.items)).toEqual(['EMB-2'])
    expect(proposed.doubts).toEqual(
      expect.arrayContaining([
        { key: null, why: 'no-build' },
        { key: 'EMB-2', why: 'without-requirement' },
      ]),
    )
    const made = await make({ name: '1.3.0', sha })
    expect(made).toMatchObject({ status: 201, body: { release: '1.3.0', tag: 'v1.3.0', sha } })
    expect(repo.git('rev-parse', 'v1.3.0')).toBe(sha)
    // The tag that is read then tells nothing new.
    const found = () => app.ctx.db.prepare(`SELECT count(*) FROM journal WHERE kind = 'release-found'`).pluck().get()
    const before = found()
    await app.server.sync.request('kiln', 'test')
    expect(found()).toBe(before)
    expect((await next()).latest).toBe('1.3.0')
  })

  test('is refused for a name or a tag that is taken, for an unknown commit, and from who may not', async () => {
    const { tip } = await next()
    expect((await make({ name: '1.3.0', sha: tip.sha })).status).toBe(409)
    repo.git('tag', 'v1.4.0', 'v1.0.0')
    expect((await make({ name: '1.4.0', sha: tip.sha })).body.detail).toContain('has a tag v1.4.0 already')
    expect((await make({ name: '1.5.0', sha: 'f'.repeat(40) })).body.fields.sha).toContain('no such commit')
    expect((await make({ name: 'main', sha: tip.sha })).body.fields.name).toContain('begins with a digit')
    expect((await make({ name: '1.5.0', sha: tip.sha }, wren)).status).toBe(403)
    expect((await ines('/services/nothing/next-release')).status).toBe(404)
  })

  test('builds on the version right below it where several names stand at one commit, whenever they became known', async () => {
    repo.git('tag', 'v0.9.0', 'v1.0.0')
    await app.server.sync.request('kiln', 'test')
    const names = async () => (await ines('/releases')).body.services[0].releases.map(({ release }: { release: string }) => release)
    await until('the other names are known', async () => {
      const known = await names()
      return known.includes('0.9.0') && known.includes('1.4.0')
    })
    expect(await contents('1.1.0')).toMatchObject({ against: { release: '1.0.0' } })
  })
})

test('figures of delivery say how long commits and items took until production, and what was taken back', async () => {
  await runs('1.0.0', 'production')
  app.clock.nowMs += 3_600_000
  await runs('1.1.0', 'production')
  app.clock.nowMs += 3_600_000
  await runs('1.0.1', 'production')
  const all = (await ines('/delivery?days=30')).body.rows.find((row: { service: string | null }) => row.service === 'kiln')
  expect(all.failures.count).toBeGreaterThanOrEqual(1)
  expect(all.restore.longest[0]).toMatchObject({ id: expect.stringContaining('kiln@1.') })
  expect(all.commitLead.count).toBeGreaterThanOrEqual(4)
  const items = all.itemLead.longest.map(({ id }: { id: string }) => id)
  expect(items).toEqual(expect.arrayContaining(['EMB-1', 'EMB-2', 'EMB-3']))
  const seen = (await wren('/delivery?days=30')).body.rows[0].itemLead.longest.map(({ id }: { id: string }) => id)
  expect(seen).not.toContain('EMB-3')
})

describe('the record of a release', () => {
  const bundle = async (): Promise<Buffer> => {
    const answer = await fetch(`${app.url}/api/v1/releases/kiln@1.1.0/record.zip`, {
      headers: { authorization: `Bearer ${app.token('read')}` },
    })
    expect(answer.headers.get('content-type')).toBe('application/zip')
    return Buffer.from(await answer.arrayBuffer())
  }

  test('says who asked for what, who made, reviewed, tested, approved and ran it; the same state gives the same bytes', async () => {
    const made = await bundle()
    app.clock.nowMs += 86_400_000
    expect((await bundle()).equals(made)).toBe(true)
    const files = unzipSync(new Uint8Array(made))
    const record = JSON.parse(strFromU8(files['record.json'] as Uint8Array))
    expect(record.release).toMatchObject({ service: 'kiln', name: '1.1.0', against: '1.0.0' })
    expect(record.requirements).toMatchObject([{ key: 'SAF-3', revision: 1 }])
    expect(record.items.map(({ key }: { key: string }) => key)).toEqual(expect.arrayContaining(['EMB-1', 'EMB-2']))
    expect(record.commits).toHaveLength(4)
    expect(record.deployments.length).toBeGreaterThanOrEqual(1)
    const rows = strFromU8(files['record.csv'] as Uint8Array).split('\r\n')
    expect(rows.some((row) => row.startsWith('SAF-3,EMB-1,'))).toBe(true)
    expect(rows.some((row) => row.includes('A newer koa'))).toBe(true)
    expect(strFromU8(files['record.html'] as Uint8Array)).toContain('Record of kiln 1.1.0')
  })

  test('is found out where a word, a file or the signer is another', async () => {
    const made = await bundle()
    const sound = checkBundle(made)
    expect(sound).toMatchObject({ isSound: true, release: 'kiln@1.1.0', fingerprint: expect.stringMatching(/^[0-9a-f]{32}$/) })
    const changed = (change: (files: Record<string, Uint8Array>) => void) => {
      const files = unzipSync(new Uint8Array(made))
      change(files)
      return checkBundle(zipSync(files))
    }
    const put = (files: Record<string, Uint8Array>, name: string, words: string) => {
      files[name] = strToU8(words)
    }
    const text = (files: Record<string, Uint8Array>, name: string) => strFromU8(files[name] as Uint8Array)
    expect(changed((files) => put(files, 'record.csv', `${text(files, 'record.csv')} `))).toMatchObject({
      why: expect.stringContaining('record.csv'),
    })
    expect(changed((files) => put(files, 'manifest.json', text(files, 'manifest.json').replace('1.1.0', '1.1.1')))).toMatchObject({
      why: expect.stringContaining('signature'),
    })
    expect(changed((files) => put(files, 'more.txt', 'x'))).toMatchObject({ why: expect.stringContaining('more.txt') })
    expect(changed((files) => void delete files['key.pem'])).toMatchObject({ why: expect.stringContaining('no manifest') })
    expect(changed((files) => put(files, 'key.pem', 'no key'))).toMatchObject({
      why: expect.stringContaining('cannot be read'),
    })
    expect(checkBundle(strToU8('no archive'))).toMatchObject({ why: expect.stringContaining('no archive') })
    expect(checkBundle(made, '0'.repeat(32))).toMatchObject({ why: expect.stringContaining('not by 000') })
  })
})

describe('which releases a defect is in', () => {
  const affected = async (ask = ines) => (await ask('/items/EMB-1/affected')).body
  const say = (body: object, ask = ines) => ask('/items/EMB-1/affected', { method: 'PUT', body: { service: 'kiln', ...body } })
  const cellOf = async (release: string, environment: string) => {
    const { services } = await affected()
    const row = services[0].releases.find((one: { release: string }) => one.release === release)
    return row.cells.find((cell: { environment: string }) => cell.environment === environment)
  }

  test('is told by its fix and by what people say of it, which they take back', async () => {
    const { environments, services } = await affected(wren)
    expect(environments).toEqual(['staging', 'production'])
    expect(services.map((one: { service: string }) => one.service)).toEqual(['kiln'])
    expect(await cellOf('1.1.0', 'staging')).toMatchObject({ state: 'fixed', ground: 'fix' })
    expect(await cellOf('1.0.0', 'staging')).toMatchObject({ state: 'untried', ground: null, by: null })
    expect((await say({ release: '1.0.0', environment: 'staging', verdict: 'affected' }, wren)).status).toBe(403)
    expect((await say({ release: '9.9.9', environment: 'staging', verdict: 'affected' })).body.fields.release).toBe(
      'kiln has no release 9.9.9',
    )
    expect((await say({ release: '1.0.0', environment: 'moon', verdict: 'affected' })).body.fields.environment).toContain('moon')
    await say({ release: '1.0.0', environment: 'staging', verdict: 'not' })
    expect(await cellOf('1.0.0', 'staging')).toMatchObject({ state: 'not', ground: 'said', by: 'person:ines' })
    await say({ release: '1.0.0', environment: 'staging', verdict: null })
    expect(await cellOf('1.0.0', 'staging')).toMatchObject({ state: 'untried' })
  })

  test('is told by the occurrences of its faults, which no word talks away', async () => {
    const headers = { authorization: `Bearer ${app.token('telemetry')}` }
    const body = exceptionRequest({
      service: 'kiln',
      release: '1.0.0',
      environment: 'production',
      atMs: app.clock.nowMs,
      count: 3,
      type: 'RelayError',
    })
    await app.call('/otlp/v1/logs', { method: 'POST', body, headers })
    let fault = ''
    await until('the fault is there', async () => {
      fault = (await ines('/faults?state=any&q=RelayError')).body.rows[0]?.fault ?? ''
      return fault !== ''
    })
    await ines('/items/EMB-1/links', { method: 'POST', body: { kind: 'tied', to: { kind: 'fault', id: fault } } })
    expect(await cellOf('1.0.0', 'production')).toMatchObject({ state: 'affected', ground: 'seen', count: 3 })
    await say({ release: '1.0.0', environment: 'production', verdict: 'not' })
    expect(await cellOf('1.0.0', 'production')).toMatchObject({ state: 'affected', ground: 'seen', said: 'not' })
  })
})

describe('a release that is withdrawn', () => {
  const withdraw = (body: object, ask = ines, release = 'kiln@1.1.0') => ask(`/releases/${release}/withdrawn`, { method: 'PUT', body })
  const goOut = (release: string) => ines('/deployments', { method: 'POST', body: { service: 'kiln', release, environment: 'staging' } })

  test('is brought nowhere, says why and by whom, and so do its published notes and their feed, until it stands again', async () => {
    await ines('/environments/staging', { method: 'PUT', body: { kind: 'staging', needsApproval: false, position: 1 } })
    await ines('/releases/kiln@1.1.0/notes/publication', { method: 'PUT', body: { reader: 'users', isPublic: true } })
    expect((await withdraw({ isWithdrawn: true, why: '' })).body.fields.why).toContain('Say why')
    const withdrawn = await withdraw({ isWithdrawn: true, why: 'The relay may weld shut.' })
    expect(withdrawn.body.withdrawn).toMatchObject({ why: 'The relay may weld shut.', by: 'Ines Okafor' })
    const refused = await goOut('1.1.0')
    expect(refused).toMatchObject({ status: 409, body: { code: 'gate-closed' } })
    expect(refused.body.detail).toContain('withdrawn: The relay may weld shut.')
    const board = (await wren('/releases')).body.services[0].releases
    expect(board.filter((row: { withdrawn: unknown }) => row.withdrawn).map((row: { release: string }) => row.release)).toEqual(['1.1.0'])
    const published = (await ines('/public/notes/kiln?reader=users')).body.rows
    expect(published.find((row: { release: string }) => row.release === '1.1.0').withdrawnWhy).toBe('The relay may weld shut.')
    expect((await app.call('/feeds/notes/kiln.atom')).text).toContain('Withdrawn: The relay may weld shut.')
    expect((await withdraw({ isWithdrawn: false })).body.withdrawn).toBeNull()
    expect((await goOut('1.1.0')).body.code).not.toBe('gate-closed')
  })

  test('said twice changes nothing more; one who makes no releases withdraws none', async () => {
    const entries = () => app.ctx.db.prepare('SELECT count(*) FROM journal').pluck().get()
    const before = entries()
    expect((await withdraw({ isWithdrawn: false })).status).toBe(200)
    expect(entries()).toBe(before)
    expect((await withdraw({ isWithdrawn: true, why: 'x' }, wren)).status).toBe(403)
    expect((await withdraw({ isWithdrawn: true, why: 'x' }, ines, 'kiln@9')).status).toBe(404)
  })
})
