import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { startApp, type App, type Ask } from './app-harness.js'

const HALF_HOUR_MS = 30 * 60_000
let app: App
let ines: Ask
beforeAll(async () => {
  app = await startApp()
  ines = await app.asks('ines')
})
afterAll(() => app.stop())
const makeToken = (ask = ines) => ask('/projects/EMB/tokens', { method: 'POST', body: { name: 'build service', scope: 'read' } })
const prove = (password: string, ask = ines) => ask('/me/proof', { method: 'POST', body: { password } })

test('a token, a role, an invitation and a password’s link take a password of the last half hour; the rest does not', async () => {
  expect((await makeToken()).status).toBe(201)
  app.clock.nowMs += HALF_HOUR_MS
  const refused = await makeToken()
  expect([refused.status, refused.body.code]).toEqual([403, 'proof-needed'])
  const others = await Promise.all([
    ines('/projects/EMB/people/rafe', { method: 'PUT', body: { role: 'lead' } }),
    ines('/projects/EMB/people', { method: 'POST', body: { name: 'New', email: 'new@emberwick.example' } }),
    ines('/me/tokens', { method: 'POST', body: { name: 'mine', scope: 'read' } }),
  ])
  expect(others.map(({ body }) => body.code)).toEqual(['proof-needed', 'proof-needed', 'proof-needed'])
  expect((await ines('/projects/EMB/tokens')).body.rows).toHaveLength(1)
  expect((await ines('/items', { method: 'POST', body: { title: 'Logging goes on' } })).status).toBe(201)
})

test('whoever lacks the right is told that, not asked for a password', async () => {
  const wren = await app.asks('wren')
  app.clock.nowMs += HALF_HOUR_MS
  expect((await makeToken(wren)).body.code).toBe('not-allowed')
})

test('the right password lets it go on for half an hour, in this session alone; a wrong one is counted and told to the trail', async () => {
  const other = await app.asks('ines')
  app.clock.nowMs += HALF_HOUR_MS
  expect((await prove('not this one')).body).toMatchObject({ code: 'wrong-credentials', detail: 'This is not your password.' })
  expect((await makeToken()).body.code).toBe('proof-needed')
  expect((await prove('long enough to pass')).status).toBe(200)
  expect((await makeToken()).status).toBe(201)
  expect((await makeToken(other)).body.code).toBe('proof-needed')
  app.clock.nowMs += HALF_HOUR_MS - 1
  expect((await makeToken()).status).toBe(201)
  app.clock.nowMs += 1
  expect((await makeToken()).body.code).toBe('proof-needed')
  const teo = await app.asks('teo')
  const refusals = (await teo('/audit?kind=sign-in-refused')).body.rows
  expect(refusals).toMatchObject([{ actor: 'person:ines', facts: { why: 'wrong password' } }])
})

test('wrong passwords lock the account, as at the sign-in', async () => {
  const rafe = await app.asks('rafe')
  for (let turn = 0; turn < 10; turn++) {
    app.clock.nowMs += 61_000
    await prove('not this one', rafe)
  }
  expect((await prove('long enough to pass', rafe)).status).toBe(429)
})

test('a token is held to its own rights, and asked for no password', async () => {
  const token = app.token('admin')
  app.clock.nowMs += HALF_HOUR_MS
  const given = await app.call('/api/v1/projects/EMB/people/rafe', {
    method: 'PUT',
    body: { role: 'lead' },
    headers: { authorization: `Bearer ${token}` },
  })
  expect(given.status).toBe(200)
})
