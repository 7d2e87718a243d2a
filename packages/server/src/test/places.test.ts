import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { connectRepository, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

const HOUR_MS = 3_600_000
let app: App
let repo: TestRepository
let ines: Ask
let rafe: Ask
let wren: Ask

/** A team without a deployer: two releases, a place that needs approval and one that does not. */
beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  ;[ines, rafe, wren] = await Promise.all([app.asks('ines'), app.asks('rafe'), app.asks('wren')])
  repo.commit('src/kiln.js', 'one\n', 'Begin')
  repo.git('tag', 'v1.0.0')
  repo.commit('src/kiln.js', 'two\n', 'Go on')
  repo.git('tag', 'v1.1.0')
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  await until('the releases are known', async () => (await ines('/releases')).body.services[0]?.releases.length === 2)
  await ines('/environments/staging', { method: 'PUT', body: { kind: 'staging', needsApproval: false, position: 1 } })
  await ines('/environments/production', { method: 'PUT', body: { kind: 'production', needsApproval: true, position: 2 } })
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

const tell = (release: string, environment: string, atMs?: number, ask = rafe) =>
  ask('/deployments/told', { method: 'POST', body: { service: 'kiln', release, environment, ...(atMs !== undefined && { atMs }) } })
const board = async () => (await ines('/releases')).body.services[0]
const runsIn = async (environment: string) =>
  (await board()).releases.flatMap((row: { release: string; runsIn: string[] }) => (row.runsIn.includes(environment) ? [row.release] : []))

describe('a team without a deployer', () => {
  test('says what runs where; its items are released by that, and the person stands for it', async () => {
    const key = (await rafe('/items', { method: 'POST', body: { title: 'Relay sticks' } })).body.key
    repo.commit('src/relay.js', 'three\n', `Free the relay\n\nFixes: ${key}`)
    repo.git('tag', 'v1.2.0')
    await app.server.sync.request('kiln', 'test')
    const told = await tell('1.2.0', 'staging')
    expect([told.status, told.body.hasDeployer]).toEqual([200, false])
    expect(await runsIn('staging')).toEqual(['1.2.0'])
    expect((await board()).deployments[0]).toMatchObject({ state: 'running', askedBy: 'rafe' })
    await tell('1.2.0', 'production')
    await until('the item is released', async () => (await ines(`/items/${key}`)).body.stage === 'released')
  })

  test('asks where approval is needed, and what was approved runs once somebody says so', async () => {
    const asked = await rafe('/deployments', { method: 'POST', body: { service: 'kiln', release: '1.1.0', environment: 'production' } })
    const { deploymentId } = asked.body.services[0].deployments.find((entry: { state: string }) => entry.state === 'asked')
    await tell('1.1.0', 'staging', app.clock.nowMs - HOUR_MS)
    expect((await ines(`/deployments/${deploymentId}/approve`, { method: 'POST' })).status).toBe(200)
    const approved = (await board()).deployments.find((entry: { deploymentId: string }) => entry.deploymentId === deploymentId)
    expect(approved).toMatchObject({ state: 'approved', approvedBy: expect.stringContaining('ines') })
    app.clock.nowMs += 1000
    await tell('1.1.0', 'production')
    const { deployments } = await board()
    expect(deployments.find((entry: { deploymentId: string }) => entry.deploymentId === deploymentId).state).toBe('running')
    expect(await runsIn('production')).toEqual(['1.1.0'])
  })

  test('is told what cannot be, and nothing is left half done', async () => {
    const before = (await board()).deployments.length
    const deploy = await rafe('/deployments', { method: 'POST', body: { service: 'kiln', release: '1.0.0', environment: 'staging' } })
    expect([deploy.status, deploy.body.detail]).toEqual([502, 'No deployer is connected. Bring it there, and say that it runs.'])
    expect((await tell('9.9.9', 'staging')).body.fields).toEqual({ release: 'There is no such release' })
    expect((await tell('1.0.0', 'moon')).body.fields).toEqual({ environment: 'There is no such environment' })
    expect((await tell('1.0.0', 'staging', app.clock.nowMs + HOUR_MS)).body.fields).toEqual({ atMs: 'That is yet to come' })
    expect((await tell('1.0.0', 'staging', undefined, wren)).status).toBe(403)
    expect((await board()).deployments).toHaveLength(before)
  })

  test('takes back what was said by mistake: what was only told is gone, what was asked for waits again', async () => {
    const newest = async (environment: string) =>
      (await board()).deployments.find((entry: { environment: string; state: string }) => entry.environment === environment)
    const take = (id: string, ask = rafe) => ask(`/deployments/${id}`, { method: 'DELETE' })
    const before = await runsIn('production')
    app.clock.nowMs += 1000
    await tell('1.2.0', 'production')
    const told = await newest('production')
    expect((await take(told.deploymentId, wren)).status).toBe(403)
    expect((await take(told.deploymentId)).status).toBe(200)
    expect(await runsIn('production')).toEqual(before)
    expect((await take(told.deploymentId)).status).toBe(404)
    const asked = (await board()).deployments.find((entry: { release: string; environment: string; state: string }) =>
      ['1.1.0 production running'].includes(`${entry.release} ${entry.environment} ${entry.state}`),
    )
    expect((await take(asked.deploymentId)).status).toBe(200)
    expect((await board()).deployments.find((entry: { deploymentId: string }) => entry.deploymentId === asked.deploymentId)).toMatchObject({
      state: 'approved',
      runningAtMs: null,
    })
    expect((await take(asked.deploymentId)).body.detail).toBe('Nobody said that it runs.')
    await tell('1.1.0', 'production')
    expect(await runsIn('production')).toEqual(['1.1.0'])
  })

  test('that has no place for staging needs none to have run before', async () => {
    await ines('/environments/live', { method: 'PUT', body: { kind: 'production', needsApproval: true, position: 3 } })
    const ask = async () => {
      const { body } = await rafe('/deployments', { method: 'POST', body: { service: 'kiln', release: '1.0.0', environment: 'live' } })
      return body.services[0].deployments.find((entry: { environment: string }) => entry.environment === 'live')
    }
    const codes = (entry: { gates: { code: string }[] }) => entry.gates.map((gate) => gate.code)
    expect(codes(await ask())).toEqual(['ran-in-staging', 'approved'])
    await ines('/environments/staging', { method: 'PUT', body: { kind: 'test', needsApproval: false, position: 1 } })
    const waiting = await ask()
    expect(codes(waiting)).toEqual(['approved'])
    expect((await ines(`/deployments/${waiting.deploymentId}/approve`, { method: 'POST' })).status).toBe(200)
    await ines('/environments/staging', { method: 'PUT', body: { kind: 'staging', needsApproval: false, position: 1 } })
  })

  test('that tells of the past changes nothing of what runs now', async () => {
    await tell('1.0.0', 'production', app.clock.nowMs - 30 * HOUR_MS)
    expect(await runsIn('production')).toEqual(['1.1.0'])
  })
})

test('a place where programs say that they are another release is said to drift, until that is told', async () => {
  const text = (key: string, value: string) => ({ key, value: { stringValue: value } })
  const send = (release: string, environment = 'production') => {
    const nano = `${app.clock.nowMs}000000`
    const about = [text('service.name', 'kiln'), text('service.version', release), text('deployment.environment.name', environment)]
    const span = { traceId: '5b8efff798038103d269b633813fc60c', name: 'control', startTimeUnixNano: nano, endTimeUnixNano: nano }
    return app.call('/otlp/v1/traces', {
      method: 'POST',
      body: { resourceSpans: [{ resource: { attributes: about }, scopeSpans: [{ spans: [span] }] }] },
      headers: { authorization: `Bearer ${app.token('telemetry')}` },
    })
  }
  // By its tag, and on somebody's own machine, a program says nothing that speaks against it.
  await send('v1.1.0')
  await send('0.9.0-mine', 'at-my-desk')
  app.clock.nowMs += 20 * 60_000
  await send('v1.1.0')
  expect((await board()).drift).toEqual([])
  app.clock.nowMs += 30 * 60_000
  await send('1.0.0')
  await until('it is heard', async () => (await board()).drift.length > 0)
  expect((await board()).drift).toEqual([
    { environment: 'production', release: '1.0.0', lastAtMs: expect.any(Number), told: '1.1.0', isPartly: true },
  ])
  await tell('1.0.0', 'production')
  expect((await board()).drift).toEqual([])
})
