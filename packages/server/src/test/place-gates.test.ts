import { strFromU8, unzipSync } from 'fflate'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import type { PlaceGate } from '@dystracer/core/places/gates'
import { replaced } from '#platform/context'
import { letOutWhatMay } from '#subjects/releases/index'
import { deployerSlot } from '#subjects/releases/deployer.slot'
import { verifyTables } from '#verify-tables'
import { connectRepository, exceptionRequest, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

/** A service with two releases; commits are those of Ines Okafor, who is ines. */
const repo = new TestRepository()
let app: App
let ines: Ask
let rafe: Ask
let teo: Ask
let wren: Ask
const HOUR_MS = 3_600_000
const post = (ask: Ask, path: string, body: object = {}) => ask(path, { method: 'POST', body })
const put = (ask: Ask, path: string, body: object = {}) => ask(path, { method: 'PUT', body })
const set = (environment: string, gates: PlaceGate[], ask = ines) => put(ask, `/environments/${environment}/gates`, { gates })
const run = (release: string, environment: string) => post(rafe, '/deployments/told', { service: 'kiln', release, environment })
const ask = (release: string, environment = 'production') => post(rafe, '/deployments', { service: 'kiln', release, environment })
interface Entry {
  deploymentId: string
  release: string
  environment: string
  state: string
  gates: { code: string; isMet: boolean; words: string }[]
  agreedBy: string[]
  passedOver: { why: string; by: string } | null
}
const entry = async (release: string, environment = 'production'): Promise<Entry> =>
  (await ines('/releases')).body.services[0].deployments.find((one: Entry) => one.release === release && one.environment === environment)
const gate = async (code: string, release = '1.0.0', environment = 'production') =>
  (await entry(release, environment)).gates.find((one) => one.code === code)

beforeAll(async () => {
  repo.commit('heat.js', 'a\n', 'Heat')
  repo.git('tag', 'v1.0.0')
  repo.commit('heat.js', 'b\n', 'Cool')
  repo.git('tag', 'v1.1.0')
  app = await startApp()
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
  teo = await app.asks('teo')
  wren = await app.asks('wren')
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

describe('the gates of a place', () => {
  test('are set by who sets environments up, are whole each time, and refused where they contradict themselves', async () => {
    const soak: PlaceGate = { kind: 'soak', hours: 24, units: 0 }
    expect((await set('production', [soak], rafe)).status).toBe(403)
    expect((await set('nowhere', [soak])).status).toBe(404)
    const wrong = async (...gates: PlaceGate[]) => (await set('production', gates)).body.fields?.gates
    expect(await wrong(soak, soak)).toBe('There are two gates of the kind soak')
    expect(await wrong({ kind: 'check', words: 'a' }, { kind: 'check', words: 'a' })).toBe('“a” stands there twice')
    expect(await wrong({ kind: 'freeze', from: '2026-12-24', to: '2026-12-23', why: '', timeZone: 'UTC' })).toContain(
      'ends before it begins',
    )
    expect(await wrong({ kind: 'agreed', people: 3, among: ['ines', 'rafe'] })).toBe('3 are to agree, and 2 are named')
    expect(await wrong({ kind: 'window', days: [1], from: '09:00', to: '09:00', timeZone: 'UTC' })).toContain('same time')
    expect((await put(ines, '/environments/production/gates', { gates: [{ kind: 'magic' }] })).status).toBe(422)
    expect((await set('production', [soak])).body.rows).toEqual([{ environment: 'production', gates: [soak] }])
    expect((await wren('/environments/gates')).body.rows).toHaveLength(1)
  })

  test('say what is missing while a deployment waits: time, work and new faults in the place before', async () => {
    await set('production', [{ kind: 'soak', hours: 24, units: 2 }])
    await ask('1.0.0')
    expect(await gate('soak')).toMatchObject({ isMet: false, words: 'has not run in staging' })
    await run('1.0.0', 'staging')
    app.clock.nowMs += 5 * HOUR_MS
    expect(await gate('soak')).toMatchObject({ isMet: false, words: 'ran 5 of 24 h in staging, did 0 of 2 pieces of work there' })
    const { deploymentId } = await entry('1.0.0')
    const refused = await post(ines, `/deployments/${deploymentId}/approve`)
    expect(refused.body).toMatchObject({ code: 'gate-closed', facts: { gates: ['soak'] } })
    expect(refused.body.detail).toContain('ran 5 of 24 h in staging')
    const nanos = (at: number) => `${app.clock.nowMs + at}000000`
    const text = (key: string, value: string) => ({ key, value: { stringValue: value } })
    const resource = {
      attributes: [text('service.name', 'kiln'), text('service.version', '1.0.0'), text('deployment.environment.name', 'staging')],
    }
    const send = (path: string, body: object) =>
      app.call(path, { method: 'POST', headers: { authorization: `Bearer ${app.token('telemetry')}` }, body })
    await send('/otlp/v1/traces', {
      resourceSpans: [{ resource, scopeSpans: [{ spans: [0, 1].map((at) => ({ name: 'fire', startTimeUnixNano: nanos(at) })) }] }],
    })
    app.clock.nowMs += 20 * HOUR_MS
    expect(await gate('soak')).toMatchObject({ isMet: true, words: 'ran 25 h in staging without a new fault' })
    await send('/otlp/v1/logs', exceptionRequest({ environment: 'staging', atMs: app.clock.nowMs }))
    expect(await gate('soak')).toMatchObject({ isMet: false, words: 'failed there in a new way' })
  })

  test('count what is severe and not merged yet, and ask for the build', async () => {
    await set('production', [{ kind: 'severity', atLeast: 1 }, { kind: 'build' }])
    expect(await gate('severity')).toMatchObject({ isMet: true })
    const { key } = (await post(ines, '/items', { title: 'Burns', severity: 1 })).body
    expect(await gate('severity')).toMatchObject({ isMet: false, words: '1 open of severity 1' })
    await post(ines, `/items/${key}/reject`, { disposition: 'deferred' })
    expect(await gate('severity')).toMatchObject({ isMet: true })
    expect(await gate('build')).toMatchObject({ isMet: false, words: 'no build of its commit was reported' })
  })

  test('ask for several people who wrote none of it; one who did is refused, one who agreed may take that back', async () => {
    await set('production', [{ kind: 'agreed', people: 2, among: [] }])
    const { deploymentId } = await entry('1.0.0')
    const path = `/deployments/${deploymentId}`
    app.ctx.journal.write((writer) =>
      writer.append({ kind: 'role-given', actor: 'system', subjects: [], body: { project: 'EMB', personId: 'rafe', role: 'lead' } }),
    )
    expect((await post(ines, `${path}/approve`)).body.detail).toContain('You wrote part of what goes out')
    expect((await post(rafe, `${path}/approve`)).status).toBe(200)
    expect(await entry('1.0.0')).toMatchObject({ state: 'asked', agreedBy: ['rafe'] })
    expect(await gate('agreed')).toMatchObject({ isMet: false, words: '1 of 2 agreed' })
    expect((await post(rafe, `${path}/approve`)).status).toBe(200)
    expect((await entry('1.0.0')).state).toBe('asked')
    await rafe(`${path}/agreement`, { method: 'DELETE' })
    expect((await entry('1.0.0')).agreedBy).toEqual([])
    await post(rafe, `${path}/approve`)
    expect((await post(teo, `${path}/approve`)).status).toBe(200)
    expect(await entry('1.0.0')).toMatchObject({ state: 'approved' })
    expect((await rafe(`${path}/agreement`, { method: 'DELETE' })).body.code).toBe('conflict')
    await run('1.0.0', 'production')
  })

  test('are passed over for a reason that stays, by who may', async () => {
    await set('production', [
      { kind: 'check', words: 'the limiter opens' },
      { kind: 'freeze', from: '2020-01-01', to: '2099-12-31', why: 'stock is counted', timeZone: 'UTC' },
    ])
    await run('1.1.0', 'staging')
    await ask('1.1.0')
    const { deploymentId } = await entry('1.1.0')
    const path = `/deployments/${deploymentId}`
    expect((await put(rafe, `${path}/checks`, { words: 'the door shuts', isOn: true })).body.fields.words).toContain('no such check')
    await put(rafe, `${path}/checks`, { words: 'the limiter opens', isOn: true })
    expect(await gate('check', '1.1.0')).toMatchObject({ isMet: true })
    await put(rafe, `${path}/checks`, { words: 'the limiter opens', isOn: false })
    expect((await post(wren, `${path}/pass-over`, { why: 'it burns' })).status).toBe(403)
    expect((await post(rafe, `${path}/pass-over`, { why: ' ' })).body.fields).toEqual({ why: 'Say why' })
    expect((await post(rafe, `${path}/pass-over`, { why: 'it burns' })).status).toBe(200)
    expect(await entry('1.1.0')).toMatchObject({ state: 'approved', passedOver: { why: 'it burns', by: 'person:rafe' } })
    const [body] = app.ctx.db.prepare("SELECT body FROM journal WHERE kind = 'place-gates-passed-over'").pluck().all() as string[]
    expect(JSON.parse(body ?? '{}').unmet).toEqual([
      'the limiter opens',
      'frozen until 2099-12-31: stock is counted',
      'nobody has approved it',
    ])
    const zip = await fetch(`${app.url}/api/v1/releases/kiln@1.1.0/record.zip`, {
      headers: { authorization: `Bearer ${app.token('read')}` },
    })
    const files = unzipSync(new Uint8Array(await zip.arrayBuffer()))
    const record = JSON.parse(strFromU8(files['record.json'] as Uint8Array))
    const unmet = JSON.parse(body ?? '{}').unmet
    const out = record.deployments.find(({ environment }: { environment: string }) => environment === 'production')
    expect(out.passedOver).toEqual({ by: 'Rafe Varga', why: 'it burns', unmet })
    expect(strFromU8(files['record.html'] as Uint8Array)).toContain('Rafe Varga: the limiter opens, frozen until')
  })
})

describe('a place in which nobody has to approve', () => {
  const sent: string[] = []
  let own: App
  test('lets a release in by itself once its gates hold, once', async () => {
    const deployer = {
      deploy: async ({ release, environment }: { release: string; environment: string }) => void sent.push(`${release} to ${environment}`),
    }
    own = await startApp({ replacements: [replaced(deployerSlot, deployer)] })
    const lead = await own.asks('ines')
    connectRepository(own, 'kiln', repo.dir)
    await own.server.sync.request('kiln', 'test')
    const state = async () => (await lead('/releases')).body.services[0].deployments[0]?.state
    await put(lead, '/environments/staging/gates', { gates: [{ kind: 'check', words: 'somebody is there' }] })
    await post(lead, '/deployments', { service: 'kiln', release: '1.0.0', environment: 'staging' })
    await letOutWhatMay(own.ctx)
    expect([sent, await state()]).toEqual([[], 'asked'])
    const [{ deploymentId }] = (await lead('/releases')).body.services[0].deployments
    await put(lead, '/environments/staging/gates', {
      gates: [{ kind: 'freeze', from: '2020-01-01', to: '2020-01-02', why: '', timeZone: 'UTC' }],
    })
    await letOutWhatMay(own.ctx)
    await letOutWhatMay(own.ctx)
    await until('it went out', async () => sent.length === 1)
    expect([sent, await state()]).toEqual([['1.0.0 to staging'], 'approved'])
    expect((await post(lead, `/deployments/${deploymentId}/pass-over`, { why: 'again' })).body.code).toBe('conflict')
    await own.stop()
  })
})
