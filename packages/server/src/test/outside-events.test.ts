import { afterAll, afterEach, beforeAll, describe, expect, test } from '@jest/globals'
import { Webhook } from 'standardwebhooks'
import type { Db } from '#platform/db/open'
import { TABLE_CLASSES } from '#platform/db/table-classes'
import { verifyTables } from '#verify-tables'
import { rememberSecret } from '#subjects/people/secrets'
import { newWebhookSecret } from '#subjects/code/webhook-secret'
import { cloudEvent, connectRepository, until, type App } from './app-harness.js'
import { anotherOrder, evidenceOf, OutsideWeek, T0 } from './outside-week.js'

let week: OutsideWeek
beforeAll(() => {
  week = new OutsideWeek()
})
afterAll(() => week.remove())

const apps: App[] = []
async function freshApp(): Promise<App> {
  const app = await week.freshApp()
  apps.push(app)
  return app
}
afterEach(async () => {
  for (const app of apps.splice(0)) await app.stop()
})

describe('facts from outside', () => {
  test('leave the same evidence in any order and any number of times', async () => {
    const { facts } = week
    const straight = await freshApp()
    for (const fact of facts) expect([fact.name, (await fact.send(straight)).status < 300]).toEqual([fact.name, true])
    const expected = evidenceOf(straight)
    for (const said of ['"outcome\\":\\"flaky', '"state\\":\\"closed', 'rounded twice', '"minutes\\":40']) expect(expected).toContain(said)
    for (const seed of [1, 2, 3, 4]) {
      const app = await freshApp()
      const order = anotherOrder(facts, seed)
      for (const fact of order) await fact.send(app)
      try {
        expect(evidenceOf(app)).toBe(expected)
      } catch (error) {
        throw new Error(`order ${order.map((fact) => fact.name).join(', ')} (seed ${seed}): ${String(error)}`)
      }
      expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
    }
  }, 60_000)

  test('a replayed event adds nothing to the journal', async () => {
    const app = await freshApp()
    const { facts } = week
    for (const fact of facts) await fact.send(app)
    const kinds = () => app.ctx.db.prepare('SELECT kind FROM journal ORDER BY seq').pluck().all()
    const counted = (db: Db, table: string) => db.prepare(`SELECT count(*) FROM ${table}`).pluck().get()
    await until('every group has its fault', () => counted(app.ctx.db, 'fault') === counted(app.ctx.volume, 'fault_group'))
    const before = kinds().length
    for (const fact of facts) await fact.send(app)
    expect(kinds().slice(before)).toEqual([])
  })
})

describe('events over the wire', () => {
  const body = () => JSON.stringify(cloudEvent('dev.cdevents.repository.modified.0.2.0', 'signed', { repository: 'kiln' }, Date.now()))
  const signed = (app: App, text: string, at = new Date()) => ({
    'content-type': 'application/cloudevents+json',
    'webhook-id': 'msg_1',
    'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
    'webhook-signature': new Webhook(rememberSecret(app.ctx.db, 'webhook', newWebhookSecret)).sign('msg_1', at, text),
  })

  test('a signature stands in for a token; a wrong, changed or old one is refused', async () => {
    const app = await freshApp()
    const text = body()
    expect((await app.call('/receive/cloudevents', { method: 'POST', raw: text, headers: signed(app, text) })).status).toBe(202)
    await until('the push was fetched', () => app.ctx.db.prepare('SELECT 1 FROM git_ref').get() !== undefined)
    const changed = await app.call('/receive/cloudevents', {
      method: 'POST',
      raw: text.replace('kiln', 'kilm'),
      headers: signed(app, text),
    })
    const old = await app.call('/receive/cloudevents', {
      method: 'POST',
      raw: text,
      headers: signed(app, text, new Date(Date.now() - 3_600_000)),
    })
    const none = await app.call('/receive/cloudevents', {
      method: 'POST',
      raw: text,
      headers: { 'content-type': 'application/cloudevents+json' },
    })
    expect([changed.body.code, old.body.code, none.body.code]).toEqual(['wrong-signature', 'wrong-signature', 'wrong-token'])
  })

  test('what became of each is listed; one about what is not set up waits, and is taken by itself once it is', async () => {
    const app = await freshApp()
    const teo = await app.asks('teo')
    const build = { repository: 'later', number: 1, sha: 'a'.repeat(40), branch: 'main', startedAtMs: T0 }
    const send = (body: object) =>
      app.call('/receive/cloudevents', {
        method: 'POST',
        raw: JSON.stringify(body),
        headers: { authorization: `Bearer ${app.token('intake')}`, 'content-type': 'application/cloudevents+json' },
      })
    const early = await send(cloudEvent('dev.cdevents.build.started.0.2.0', 'early', build, T0))
    expect(early.status).toBe(202)
    expect(early.body.events).toEqual([{ id: 'early', outcome: 'kept for later', why: expect.stringContaining('no repository later') }])
    await send(cloudEvent('dev.cdevents.ticket.created.0.1.0', 'other', {}, T0))
    const asked = async () => (await teo('/webhook/deliveries')).body
    const list = async () => (await asked()).rows
    expect(await asked()).toMatchObject({
      waiting: 1,
      rows: [
        { kind: 'dev.cdevents.ticket.created.0.1.0', outcome: 'passed over' },
        { kind: 'dev.cdevents.build.started.0.2.0', outcome: 'kept for later', sender: 'token:test intake' },
      ],
    })
    const { deliveryId } = (await list())[1]
    const again = () => teo(`/webhook/deliveries/${deliveryId}/replay`, { method: 'POST', body: {} })
    connectRepository(app, 'later', week.repo.dir)
    await until('what waited was placed', async () => (await asked()).waiting === 0)
    expect((await teo('/builds/later/1')).body).toMatchObject({ state: 'running' })
    expect((await list())[0]).toMatchObject({ outcome: 'taken', sender: 'token:test intake' })
    expect((await again()).body.rows[0]).toMatchObject({ outcome: 'taken', sender: 'person:teo' })
    for (let turn = 0; turn < 60; turn++) await send(cloudEvent('dev.cdevents.incident.detected.0.2.0', `n${turn}`, {}, T0))
    expect(await list()).toHaveLength(50)
    expect((await again()).status).toBe(404)
    expect((await (await app.asks('ines'))('/webhook/deliveries')).status).toBe(403)
  })

  test('binary, structured and batched mode are all taken', async () => {
    const app = await freshApp()
    const headers = { authorization: `Bearer ${app.token('intake')}` }
    const structured = cloudEvent(
      'dev.cdevents.service.deployed.0.2.0',
      'a',
      { deploymentId: 'a', service: 'kiln', release: '1', environment: 'staging' },
      T0,
    )
    const batch = [
      cloudEvent(
        'dev.cdevents.service.deployed.0.2.0',
        'b',
        { deploymentId: 'b', service: 'kiln', release: '2', environment: 'staging' },
        T0 + 1,
      ),
    ]
    const binary = cloudEvent(
      'dev.cdevents.service.deployed.0.2.0',
      'c',
      { deploymentId: 'c', service: 'kiln', release: '3', environment: 'staging' },
      T0 + 2,
    ) as {
      data: object
    }
    const answers = [
      await app.call('/receive/cloudevents', {
        method: 'POST',
        raw: JSON.stringify(structured),
        headers: { ...headers, 'content-type': 'application/cloudevents+json' },
      }),
      await app.call('/receive/cloudevents', {
        method: 'POST',
        raw: JSON.stringify(batch),
        headers: { ...headers, 'content-type': 'application/cloudevents-batch+json' },
      }),
      await app.call('/receive/cloudevents', {
        method: 'POST',
        raw: JSON.stringify(binary.data),
        headers: {
          ...headers,
          'content-type': 'application/json',
          'ce-specversion': '1.0',
          'ce-id': 'c',
          'ce-source': '/outside',
          'ce-type': 'dev.cdevents.service.deployed.0.2.0',
        },
      }),
    ]
    expect(answers.map((answer) => answer.status)).toEqual([202, 202, 202])
    const ids = app.ctx.db.prepare<[], { id: string }>('SELECT deployment_id AS id FROM deployment ORDER BY 1').all()
    expect(ids.map((row) => row.id)).toEqual(['a', 'b', 'c'])
  })

  test.each([
    ['not JSON', '{', 'malformed-body'],
    ['no CloudEvent', '{"a":1}', 'malformed-body'],
    ['no CDEvents message', JSON.stringify({ specversion: '1.0', id: 'x', source: '/x', type: 'y', data: { a: 1 } }), 'invalid-input'],
  ])('%s is refused, with nothing stored', async (_name, raw, code) => {
    const app = await freshApp()
    const count = () => app.ctx.db.prepare<[], { count: number }>('SELECT count(*) AS count FROM journal').get()?.count
    const before = count()
    const answer = await app.call('/receive/cloudevents', {
      method: 'POST',
      raw,
      headers: { authorization: `Bearer ${app.token('intake')}`, 'content-type': 'application/cloudevents+json' },
    })
    expect(answer.body.code).toBe(code)
    expect(count()).toBe(before)
  })

  test.each([
    ['a document type', '<!DOCTYPE a [<!ENTITY b "c">]><testsuite/>'],
    ['broken XML', '<testsuites><testsuite></testsuites>'],
    ['another XML', '<html/>'],
  ])('a JUnit report with %s is refused', async (_name, raw) => {
    const app = await freshApp()
    const answer = await app.call(`/receive/reports/junit?repository=kiln&commit=${week.sha.relay}&build=1`, {
      method: 'POST',
      raw,
      headers: { authorization: `Bearer ${app.token('intake')}` },
    })
    expect(answer.body.code).toBe('malformed-body')
    expect(app.ctx.db.prepare('SELECT 1 FROM test_result').get()).toBeUndefined()
  })
})

test('every table of the main database is declared as projection, cache, secret or source', async () => {
  const app = await freshApp()
  const tables = app.ctx.db
    .prepare<[], { name: string }>(
      `SELECT name FROM sqlite_master
        WHERE type = 'table' AND name NOT LIKE 'sqlite_%' AND name NOT IN ('migration')
        AND name NOT GLOB '*_search_[dic]*' ORDER BY name`,
    )
    .all()
    .map((row) => row.name)
  expect(Object.values(TABLE_CLASSES).flat().sort()).toEqual(tables)
})

test('in a repository of several services a fix counts where its folders are touched; what no folder holds counts for all', async () => {
  const app = await freshApp()
  await app.server.sync.request('kiln', 'test')
  const ines = await app.asks('ines')
  const services = [
    { service: 'door', pathPrefix: 'src' },
    { service: 'panel', pathPrefix: 'panel' },
  ]
  for (const one of services)
    await ines('/projects/EMB/services', { method: 'POST', body: { ...one, repository: 'kiln', tagPrefix: `${one.service}-` } })
  expect((await ines('/services/kiln', { method: 'PATCH', body: { pathPrefix: 'firmware' } })).status).toBe(200)
  const deploy = (service: string, release: string) =>
    app.ctx.journal.write((writer) => {
      writer.append({
        kind: 'release-found',
        actor: 'source:git',
        subjects: [],
        body: { service, name: release, tag: release, sha: week.sha.merged, isRewritten: false },
      })
      writer.append({
        kind: 'deployment-seen',
        actor: 'source:deployer',
        subjects: [],
        body: { deploymentId: `${service}-${release}`, service, release, environment: 'production' },
      })
      writer.touch(['EMB-1'])
    })
  const released = async () =>
    (await ines('/items/EMB-1/ladder')).body.treads.find((tread: { stage: string }) => tread.stage === 'released').state as string
  deploy('panel', '1')
  expect(await released()).toBe('waiting')
  deploy('door', '1')
  expect(await released()).toBe('proved')
  // Now no folder holds the change: it counts for all that run.
  await ines('/services/door', { method: 'PATCH', body: { pathPrefix: '' } })
  expect((await ines('/services')).body.rows.map((row: { service: string; pathPrefix: string }) => [row.service, row.pathPrefix])).toEqual([
    ['door', ''],
    ['kiln', 'firmware'],
    ['panel', 'panel'],
  ])
  expect(await released()).toBe('proved')
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
})
