import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { Webhook } from 'standardwebhooks'
import { verifyTables } from '#verify-tables'
import { connectRepository, exceptionRequest, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

/** What the demo has from its seed, a team makes on screen: environments, rules that make items of faults, and the way in for events. */
let app: App
let repo: TestRepository
let ines: Ask
let rafe: Ask
let teo: Ask

beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  repo.commit('src/probe.js', 'one\n', 'Begin')
  repo.commit('src/probe.js', 'two\n', 'Open the relay\n\nFixes: EMB-1')
  repo.git('tag', 'v1.0.1')
  ;[ines, rafe, teo] = await Promise.all([app.asks('ines'), app.asks('rafe'), app.asks('teo')])
  await put(rafe, '/items', { title: 'Relay stays closed' }, 'POST')
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

const put = (ask: Ask, path: string, body: object, method = 'PUT') => ask(path, { method, body })
const throws = (place: string, count: number, given: { environment?: string; service?: string } = {}) =>
  app.call('/otlp/v1/logs', {
    method: 'POST',
    body: exceptionRequest({
      atMs: app.clock.nowMs,
      count,
      place: `${place} (/srv/kiln/src/${place}.js:5:3)`,
      type: `${place}Error`,
      ...given,
    }),
    headers: { authorization: `Bearer ${app.token('telemetry')}` },
  })
const faultOf = async (place: string) => {
  let fault: { fault: string; item: { key: string } | null } | undefined
  await until(`the fault of ${place}`, async () => {
    fault = (await ines(`/faults?q=${place}`)).body.rows[0]
    return fault !== undefined
  })
  return fault as { fault: string; item: { key: string } | null }
}

describe('environments', () => {
  const deploy = (environment: string) =>
    app.call('/receive/cloudevents', {
      method: 'POST',
      raw: JSON.stringify({
        specversion: '1.0',
        id: `d-${environment}`,
        source: '/ci',
        type: 'dev.cdevents.service.deployed.0.2.0',
        datacontenttype: 'application/json',
        data: {
          context: {
            version: '0.4.1',
            id: `d-${environment}`,
            source: '/ci',
            type: 'dev.cdevents.service.deployed.0.2.0',
            timestamp: new Date(app.clock.nowMs).toISOString(),
          },
          subject: { id: 'kiln', content: {} },
          customData: { deploymentId: `d-${environment}`, service: 'kiln', release: '1.0.1', environment },
        },
      }),
      headers: { authorization: `Bearer ${app.token('evidence')}`, 'content-type': 'application/cloudevents+json' },
    })
  const stageOf = async (key: string) => (await ines(`/items/${key}`)).body.stage

  test('are set up, changed and removed by a lead; the board shows them in their order', async () => {
    expect((await put(rafe, '/environments/canary', { kind: 'test', position: 9 })).status).toBe(403)
    expect((await put(ines, '/environments/canary', { kind: 'test', position: 9 })).body.environments.at(-1)).toEqual({
      environment: 'canary',
      kind: 'test',
      needsApproval: false,
      position: 9,
    })
    const changed = await put(ines, '/environments/canary', { kind: 'staging', needsApproval: true, position: 0.5 })
    expect(changed.status).toBe(422)
    await put(ines, '/environments/canary', { kind: 'staging', needsApproval: true, position: 1 })
    expect((await ines('/releases')).body.environments.map((row: { environment: string }) => row.environment)).toEqual([
      'canary',
      'staging',
      'production',
    ])
    expect((await ines('/environments/canary', { method: 'DELETE' })).body.environments).toHaveLength(2)
    expect((await ines('/environments/canary', { method: 'DELETE' })).status).toBe(404)
    expect((await put(ines, '/environments/two%20words', { kind: 'test', position: 1 })).body.fields).toHaveProperty('environment')
  })

  test('that become production move the ladders of what runs there, and back', async () => {
    await put(ines, '/environments/customers', { kind: 'staging', position: 5 })
    expect((await deploy('customers')).status).toBe(202)
    expect(await stageOf('EMB-1')).toBe('merged')
    await put(ines, '/environments/customers', { kind: 'production', position: 5 })
    expect(await stageOf('EMB-1')).toBe('released')
    await put(ines, '/environments/customers', { kind: 'test', position: 5 })
    expect(await stageOf('EMB-1')).toBe('merged')
    const kept = await ines('/environments/customers', { method: 'DELETE' })
    expect([kept.status, kept.body.detail]).toEqual([409, expect.stringContaining('were brought to customers')])
  })
})

describe('intake rules', () => {
  const rule = { name: 'Twice anywhere', environmentKind: 'any', severityAtLeast: 'error', countAtLeast: 2, windowMinutes: 10 }
  const path = '/projects/EMB/intake-rules'

  test('are tried before they are set up: which faults they would have made items of', async () => {
    await throws('lid', 2, { environment: 'nobody-set-this-up' })
    await throws('door', 1)
    const lid = await faultOf('lid')
    await faultOf('door')
    const trial = await put(ines, `${path}/trial`, rule, 'POST')
    expect(trial.body.rows.map((row: { fault: string }) => row.fault)).toEqual([lid.fault])
    expect(trial.body.looked).toBe(2)
    expect((await put(ines, `${path}/trial`, { ...rule, environmentKind: 'production' }, 'POST')).body.rows).toEqual([])
    expect((await ines(path)).body.rows).toHaveLength(1)
  })

  test('make an item of what comes, once, also where no environment was set up', async () => {
    expect((await put(rafe, `${path}/twice`, rule)).status).toBe(403)
    await put(ines, `${path}/twice`, rule)
    // The same moment again would be the same occurrence, sent twice.
    app.clock.nowMs += 1000
    await throws('lid', 1, { environment: 'nobody-set-this-up' })
    await until('the item', async () => (await faultOf('lid')).item !== null)
    const { rows } = (await ines(path)).body
    expect(rows.find((row: { ruleId: string }) => row.ruleId === 'twice')).toMatchObject({ ...rule, fired: 1 })
  })

  test('are changed and removed; the items that they made stay', async () => {
    await put(ines, `${path}/twice`, { ...rule, countAtLeast: 50 })
    await throws('wire', 3)
    expect((await faultOf('wire')).item).toBeNull()
    expect((await ines(`${path}/twice`, { method: 'DELETE' })).body.rows).toHaveLength(1)
    expect((await faultOf('lid')).item).not.toBeNull()
    expect((await ines(`${path}/twice`, { method: 'DELETE' })).status).toBe(404)
    expect((await put(ines, `${path}/Not an id`, rule)).status).toBe(422)
    expect((await put(ines, `${path}/none`, { ...rule, countAtLeast: 0 })).body.fields).toEqual({ countAtLeast: 'At least once' })
  })
})

describe('a fault without an item', () => {
  test('is logged by hand, once, by whoever may', async () => {
    const { fault } = await faultOf('door')
    expect((await (await app.asks('wren'))(`/faults/${fault}/item`, { method: 'POST' })).status).toBe(403)
    expect((await (await app.asks('wren'))(`/faults/${fault}/item-proposal`)).status).toBe(403)
    const proposed = await rafe(`/faults/${fault}/item-proposal`)
    expect(proposed.body).toMatchObject({ project: 'EMB', title: expect.stringMatching(/^[A-Z].*, in \w+$/) })
    expect(proposed.body.description).toMatch(/^\*\*Steps\*\*\n\n1\. Run kiln[\s\S]*\*\*Expected\*\*[\s\S]*\*\*What happens\*\*/)
    const logged = await rafe(`/faults/${fault}/item`, { method: 'POST' })
    expect(logged.status).toBe(201)
    expect((await rafe(`/items/${logged.body.key}`)).body).toMatchObject({ type: 'defect', reporterId: 'rafe', stage: 'logged' })
    const again = await rafe(`/faults/${fault}/item`, { method: 'POST' })
    expect((await rafe(`/faults/${fault}/item-proposal`)).status).toBe(409)
    expect([again.status, again.body.detail]).toEqual([409, `${logged.body.key} stands for ${fault} already.`])
    const history = (await rafe(`/items/${logged.body.key}/history`)).body.rows
    expect(history.some((entry: { by: string }) => entry.by === 'person:rafe')).toBe(true)
  })

  test('of a program that nobody has connected says what to do first', async () => {
    await throws('stray', 1, { service: 'stray-program' })
    const { fault } = await faultOf('stray')
    const refused = await rafe(`/faults/${fault}/item`, { method: 'POST' })
    expect([refused.status, refused.body.detail]).toEqual([409, expect.stringContaining('Connect it under Faults')])
  })
})

describe('the way in for signed events', () => {
  const signed = (secret: string) => {
    const body = JSON.stringify({
      specversion: '1.0',
      id: 'signed',
      source: '/ci',
      type: 'dev.cdevents.repository.modified.0.2.0',
      datacontenttype: 'application/json',
      data: {
        context: {
          version: '0.4.1',
          id: 'signed',
          source: '/ci',
          type: 'dev.cdevents.repository.modified.0.2.0',
          timestamp: new Date().toISOString(),
        },
        subject: { id: 'kiln', content: {} },
        customData: { repository: 'kiln' },
      },
    })
    const at = new Date()
    return app.call('/receive/cloudevents', {
      method: 'POST',
      raw: body,
      headers: {
        'content-type': 'application/cloudevents+json',
        'webhook-id': 'm1',
        'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
        'webhook-signature': new Webhook(secret).sign('m1', at, body),
      },
    })
  }

  test('is shown to an administrator alone, and a renewed secret takes the place of the old at once', async () => {
    expect((await ines('/webhook')).status).toBe(403)
    const { address, secret } = (await teo('/webhook')).body
    expect(address).toMatch(/\/receive\/cloudevents$/)
    expect((await signed(secret)).status).toBe(202)
    const renewed = (await teo('/webhook/renewal', { method: 'POST' })).body.secret
    expect(renewed).not.toBe(secret)
    expect([(await signed(secret)).status, (await signed(renewed)).status]).toEqual([401, 202])
  })
})
