import { createHmac } from 'node:crypto'
import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { Webhook } from 'standardwebhooks'
import { verifyTables } from '#verify-tables'
import { connectRepository, startApp, TestRepository, type App, type Ask } from './app-harness.js'

let app: App
let teo: Ask
let repo: TestRepository
let sha: string
beforeAll(async () => {
  app = await startApp()
  teo = await app.asks('teo')
  repo = new TestRepository()
  sha = repo.commit('README.md', 'kiln\n', 'Begin')
  connectRepository(app, 'kiln', repo.dir)
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

const put = (ask: Ask, path: string, body: object) => ask(path, { method: 'PUT', body })
const post = (ask: Ask, path: string, body: object) => ask(path, { method: 'POST', body })
const HOOK = '/projects/EMB/hooks/builder'
const READINGS = [
  {
    name: 'done',
    when: [{ at: '/event', is: 'same', text: 'job.done' }],
    tells: 'build-finished',
    fields: {
      repository: { at: '/repo' },
      build: { at: '/job/id' },
      outcome: {
        at: '/job/status',
        words: [
          { from: 'GREEN', to: 'passed' },
          { from: 'RED', to: 'broke' },
        ],
      },
      commit: { at: '/job/rev' },
      branch: { text: 'main' },
    },
  },
]
const job = (id: number, status: string, repoName = 'kiln') =>
  JSON.stringify({ event: 'job.done', repo: repoName, job: { id, status, rev: sha } })

/** Sends a message with its HMAC, as many hosts do. */
async function send(raw: string, { hook = 'builder', secret }: { hook?: string; secret?: string } = {}) {
  const key = secret ?? (await teo(`/projects/EMB/hooks/${hook}/secret`)).body.secret
  return app.call(`/receive/hooks/${hook}`, {
    method: 'POST',
    raw,
    headers: { 'content-type': 'application/json', 'x-sum': `sha256=${createHmac('sha256', key).update(raw).digest('hex')}` },
  })
}

test('what no reading is about is kept as it came; a reading is tried on it, kept, and the message taken again', async () => {
  expect((await put(teo, HOOK, { name: 'Builder', proof: { kind: 'hmac-sha256', header: 'X-Sum' } })).body.rows).toMatchObject([
    {
      hookId: 'builder',
      name: 'Builder',
      readings: [],
      messages: 0,
      lastAtMs: null,
      address: expect.stringMatching(/\/receive\/hooks\/builder$/),
    },
  ])
  expect((await send(job(1, 'GREEN'))).body.events).toMatchObject([{ outcome: 'kept for later' }])
  const [kept] = (await teo(`${HOOK}/messages`)).body.rows
  expect(kept).toMatchObject({ outcome: 'kept for later', message: { event: 'job.done', job: { id: 1 } } })
  expect((await teo('/builds/kiln/1')).status).toBe(404)

  const lacking = [{ ...READINGS[0], fields: { repository: { at: '/repo' }, outcome: { at: '/job/colour' } } }]
  expect((await post(teo, `${HOOK}/trial`, { readings: lacking })).body.rows).toMatchObject([
    { reading: 'done', lacks: ['build', 'outcome'] },
  ])
  expect((await post(teo, `${HOOK}/trial`, { readings: READINGS })).body.rows).toMatchObject([
    { deliveryId: kept.deliveryId, tells: 'build-finished', values: { build: '1', outcome: 'passed', branch: 'main' }, lacks: [] },
  ])
  expect((await teo('/builds/kiln/1')).status).toBe(404)

  await put(teo, HOOK, { name: 'Builder', proof: { kind: 'hmac-sha256', header: 'X-Sum' }, readings: READINGS })
  expect((await post(teo, `/webhook/deliveries/${kept.deliveryId}/replay`, {})).status).toBe(200)
  expect((await teo('/builds/kiln/1')).body).toMatchObject({ state: 'passed', branch: 'main', sha })
  expect((await send(job(2, 'RED'))).body.events).toMatchObject([{ outcome: 'taken', why: null }])
  expect((await teo('/builds/kiln/2')).body).toMatchObject({ state: 'broke' })
  // The same message again is the same event.
  expect((await send(job(2, 'RED'))).status).toBe(202)
  expect((await teo(HOOK.replace('/builder', ''))).body.rows[0]).toMatchObject({
    messages: 4,
    readings: READINGS.map(({ name }) => ({ name })),
  })
})

test('a message that is not proven is refused and not stored, by each way of proof', async () => {
  const before = (await teo(`${HOOK}/messages`)).body.rows.length
  expect((await send(job(3, 'GREEN'), { secret: 'another' })).body.code).toBe('wrong-signature')
  expect((await app.call('/receive/hooks/builder', { method: 'POST', raw: job(3, 'GREEN') })).body.detail).toContain(
    'header X-Sum is not there',
  )
  expect((await app.call('/receive/hooks/nothing', { method: 'POST', raw: '{}' })).status).toBe(404)
  expect((await teo(`${HOOK}/messages`)).body.rows).toHaveLength(before)
  await put(teo, '/projects/EMB/hooks/standard', { name: 'Standard' })
  const { secret } = (await teo('/projects/EMB/hooks/standard/secret')).body
  const headers = (key: string) => ({
    'webhook-id': 'w-1',
    'webhook-timestamp': String(Math.floor(Date.now() / 1000)),
    'webhook-signature': new Webhook(key).sign('w-1', new Date(Math.floor(Date.now() / 1000) * 1000), '{}'),
  })
  const standard = (key: string) => app.call('/receive/hooks/standard', { method: 'POST', raw: '{}', headers: headers(key) })
  expect((await standard(secret)).body.events).toMatchObject([{ id: 'w-1', outcome: 'kept for later' }])
  const renewed = (await post(teo, '/projects/EMB/hooks/standard/secret', {})).body.secret
  expect((await standard(secret)).body.code).toBe('wrong-signature')
  expect((await standard(renewed)).status).toBe(202)
  await put(teo, '/projects/EMB/hooks/plain', { name: 'Plain', proof: { kind: 'secret-in-header' } })
  const plain = (await teo('/projects/EMB/hooks/plain/secret')).body.secret
  const shown = (value: string, raw = '{}') => app.call('/receive/hooks/plain', { method: 'POST', raw, headers: { 'x-secret': value } })
  expect((await shown(plain)).status).toBe(202)
  expect((await shown(`${plain}x`)).body.code).toBe('wrong-signature')
  expect((await shown(plain, '{"half":')).body.code).toBe('malformed-body')
})

test('a hook tells of its own project alone; what is not set up there waits, and is taken once it is', async () => {
  expect((await send(job(9, 'GREEN', 'elsewhere'))).body.events).toMatchObject([
    { outcome: 'kept for later', why: expect.stringContaining('elsewhere') },
  ])
  const ines = await app.asks('ines')
  expect((await ines('/projects/EMB/hooks')).body.code).toBe('not-allowed')
  await post(teo, '/projects', { name: 'Operations', prefix: 'OPS' })
  expect((await put(teo, '/projects/OPS/hooks/builder', { name: 'Theirs' })).body.code).toBe('conflict')
  expect((await teo('/projects/OPS/hooks/builder/messages')).status).toBe(404)
  expect((await put(teo, '/projects/OPS/hooks/Not%20one', { name: 'Not one' })).body.code).toBe('invalid-input')
  await put(teo, '/projects/OPS/hooks/ops', { name: 'Ops', proof: { kind: 'secret-in-header' }, readings: READINGS })
  const secret = (await teo('/projects/OPS/hooks/ops/secret')).body.secret
  const told = await app.call('/receive/hooks/ops', { method: 'POST', raw: job(10, 'GREEN'), headers: { 'x-secret': secret } })
  expect(told.body.events).toMatchObject([{ outcome: 'kept for later' }])
  expect((await teo('/builds/kiln/10')).status).toBe(404)
})

test('only the newest fifty of a hook are kept; a closed hook takes nothing more', async () => {
  for (let id = 100; id < 155; id++) await send(JSON.stringify({ event: 'ping', id }))
  const { rows } = (await teo(`${HOOK}/messages`)).body
  expect(rows).toHaveLength(50)
  expect(rows[0].message).toEqual({ event: 'ping', id: 154 })
  const { secret } = (await teo(`${HOOK}/secret`)).body
  expect((await teo(HOOK, { method: 'DELETE' })).body.rows.map((row: { hookId: string }) => row.hookId)).toEqual(['plain', 'standard'])
  expect((await send(job(11, 'GREEN'), { secret })).status).toBe(404)
})
