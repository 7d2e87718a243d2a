import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { createHmac } from 'node:crypto'
import { startApp, type App, type Ask } from './app-harness.js'

/** RFC 6238 in its own words, apart from the library that the product uses: SHA-1, six digits, steps of thirty seconds. */
function codeAt(secret: string, atMs: number): string {
  const bits = [...secret].map((letter) => 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'.indexOf(letter).toString(2).padStart(5, '0')).join('')
  const key = Buffer.from((bits.match(/.{8}/g) ?? []).map((byte) => Number.parseInt(byte, 2)))
  const counter = Buffer.alloc(8)
  counter.writeBigUInt64BE(BigInt(Math.floor(atMs / 30_000)))
  const hash = createHmac('sha1', key).update(counter).digest()
  const at = (hash[19] ?? 0) & 15
  return String((hash.readUInt32BE(at) & 0x7fffffff) % 1_000_000).padStart(6, '0')
}

const PASSWORD = 'long enough to pass'
let app: App
let rafe: Ask
let secret = ''
let recoveryCodes: string[] = []
beforeAll(async () => {
  app = await startApp()
  rafe = await app.asks('rafe')
})
afterAll(() => app.stop())
const post = (path: string, body: object) => rafe(path, { method: 'POST', body })
const signIn = (code?: string) => {
  // Past the limit of each minute, and into the next step.
  app.clock.nowMs += 61_000
  return app.call('/api/v1/session', {
    method: 'POST',
    body: { email: 'rafe@emberwick.example', password: PASSWORD, ...(code && { code }) },
  })
}
const now = () => codeAt(secret, app.clock.nowMs + 61_000)

test('the code of the RFC comes out as the RFC says', () => {
  expect(codeAt('GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ', 59_000)).toBe('287082')
})

test('is set up by the password and a code of the authenticator; until then the password is enough', async () => {
  expect((await post('/me/second-factor', { password: 'not this one' })).body.fields.password).toContain('not your password')
  const begun = (await post('/me/second-factor', { password: PASSWORD })).body
  expect(begun.uri).toContain('otpauth://totp/Dystracer:rafe%40emberwick.example')
  secret = begun.secret
  expect((await signIn()).status).toBe(200)
  const wrong = await post('/me/second-factor/confirmation', { code: '000000' })
  expect(wrong.body.fields.code).toMatch(/here it is \d\d:\d\d:\d\d UTC/)
  const confirmed = await post('/me/second-factor/confirmation', { code: codeAt(secret, app.clock.nowMs) })
  recoveryCodes = confirmed.body.recoveryCodes
  expect(new Set(recoveryCodes).size).toBe(10)
  expect((await rafe('/me/second-factor')).body).toMatchObject({ isOn: true, recoveryLeft: 10 })
})

test('is asked for after the right password alone; a code counts once, also the one of the step before', async () => {
  expect((await signIn()).body.code).toBe('second-factor-needed')
  app.clock.nowMs += 61_000
  const other = await app.call('/api/v1/session', {
    method: 'POST',
    body: { email: 'rafe@emberwick.example', password: 'not this one', code: '1' },
  })
  expect(other.body.code).toBe('wrong-credentials')
  const code = now()
  expect((await signIn(`${code.slice(0, 3)} ${code.slice(3)}`)).status).toBe(200)
  app.clock.nowMs -= 61_000
  const again = await signIn(code)
  expect([again.status, again.body.detail]).toEqual([401, expect.stringContaining('UTC')])
  expect((await signIn(codeAt(secret, app.clock.nowMs + 61_000 - 30_000))).status).toBe(200)
  expect((await signIn(codeAt(secret, app.clock.nowMs + 61_000 - 90_000))).status).toBe(401)
})

test('a code for a lost device counts once; both are refused in a stranger’s hands after ten tries', async () => {
  expect((await signIn(recoveryCodes[3]?.toUpperCase())).status).toBe(200)
  expect((await signIn(recoveryCodes[3])).status).toBe(401)
  expect((await rafe('/me/second-factor')).body.recoveryLeft).toBe(9)
  for (let turn = 0; turn < 9; turn++) await signIn('123456')
  expect((await signIn(now())).status).toBe(429)
  app.clock.nowMs += 15 * 60_000
  expect((await signIn(now())).status).toBe(200)
})

test('is ended by the password; nothing of it is left, and the trail names both', async () => {
  expect((await post('/me/second-factor/end', { password: PASSWORD })).body).toEqual({ isOn: false, sinceMs: null, recoveryLeft: 0 })
  expect((await signIn()).status).toBe(200)
  const kinds = (await (await app.asks('teo'))('/audit?limit=200')).body.rows.map((row: { kind: string }) => row.kind)
  expect(kinds).toEqual(expect.arrayContaining(['second-factor-set', 'second-factor-ended']))
  expect(JSON.stringify(app.ctx.db.prepare('SELECT * FROM audit_entry').all())).not.toContain(secret)
})
