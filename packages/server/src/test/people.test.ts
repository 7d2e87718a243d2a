import { mailerSlot } from '#platform/mail/mailer.slot'
import type { OutgoingMail } from '#platform/mail/mailer'
import { personByAddress } from '#subjects/people/index'
import { noMailer } from '#platform/mail/smtp-mailer'
import { replaced } from '#platform/context'
import { verifyTables } from '#verify-tables'
import { afterAll, afterEach, beforeEach, describe, expect, test } from '@jest/globals'
import { startApp, until, type App, type Ask } from './app-harness.js'

const PASSWORD = 'seven glazed plates on a windy shelf'
const apps: App[] = []
const mails: OutgoingMail[] = []
let app: App
let teo: Ask
let ines: Ask
let rafe: Ask

async function begin(mailer = { send: async (mail: OutgoingMail) => void mails.push(mail) }): Promise<void> {
  app = await startApp({ replacements: [replaced(mailerSlot, mailer)] })
  apps.push(app)
  ;[teo, ines, rafe] = await Promise.all([app.asks('teo'), app.asks('ines'), app.asks('rafe')])
}
beforeEach(() => begin())
afterEach(async () => {
  mails.length = 0
  for (const each of apps.splice(0)) {
    expect(verifyTables({ db: each.ctx.db, dataDir: each.dataDir })).toEqual([])
    await each.stop()
  }
})
afterAll(() => expect(apps).toEqual([]))

const send = (ask: Ask, method: string, path: string, body?: object) => ask(path, { method, ...(body && { body }) })
const signIn = (email: string, password: string) =>
  app.call('/api/v1/session', { method: 'POST', body: { email, password }, headers: { 'user-agent': 'a test' } })
const signUp = (link: string, password = PASSWORD) =>
  app.call('/api/v1/sign-up', {
    method: 'POST',
    body: { secret: link.split('/').at(-1), name: 'Nell Soto', email: 'nell@emberwick.example', password },
  })
const NELL = { name: 'Nell Soto', email: 'nell@emberwick.example' }

describe('an invitation', () => {
  const linkIn = async () => {
    await until('the mail', () => mails.length > 0)
    return /\S+\/sign-up\/\S+/.exec(mails.at(-1)?.text ?? '')?.[0] ?? ''
  }

  test('goes out by mail and is not shown; without a mail server it is shown to be handed over', async () => {
    expect((await send(ines, 'POST', '/projects/EMB/people', NELL)).body).toEqual({ personId: 'nell-soto', link: null })
    expect((await signUp(await linkIn())).status).toBe(200)
    await begin(noMailer as never)
    const { body } = await send(ines, 'POST', '/projects/EMB/people', NELL)
    expect(body.link).toMatch(/\/sign-up\/\S{32}$/)
    expect((await signUp(body.link)).status).toBe(200)
  })

  test('is used once, also by two at the same moment', async () => {
    await send(ines, 'POST', '/projects/EMB/people', NELL)
    const link = await linkIn()
    const statuses = (await Promise.all([signUp(link), signUp(link, `${PASSWORD} two`)])).map(({ status }) => status)
    expect(statuses.sort()).toEqual([200, 401])
    expect((await signUp(link)).status).toBe(401)
  })

  test('is over after two weeks, and a newer one takes its place', async () => {
    await send(ines, 'POST', '/projects/EMB/people', NELL)
    const first = await linkIn()
    mails.length = 0
    await send(ines, 'POST', '/projects/EMB/people', NELL)
    expect((await signUp(first)).status).toBe(401)
    const second = await linkIn()
    app.clock.nowMs += 14 * 86_400_000 + 1
    expect((await signUp(second)).body.detail).toContain('is over')
  })

  test('is not spent on a password that would be guessed, which is told at its field', async () => {
    await send(ines, 'POST', '/projects/EMB/people', NELL)
    const link = await linkIn()
    for (const weak of ['password123', '1234567890', 'qwertyuiop1'])
      expect((await signUp(link, weak)).body.fields).toEqual({ password: expect.stringContaining('Take several words') })
    expect((await signUp(link)).status).toBe(200)
  })

  test('makes administrators only by an administrator', async () => {
    expect((await send(ines, 'POST', '/projects/EMB/people', { ...NELL, role: 'admin' })).status).toBe(403)
    expect((await send(teo, 'POST', '/projects/EMB/people', { ...NELL, role: 'admin' })).status).toBe(200)
  })
})

describe('a role', () => {
  const roleOf = async (personId: string) =>
    (await teo('/me')).body.people.find((person: { personId: string }) => person.personId === personId)?.role

  test('is given and changed by a lead, holds at once, and stands in the history', async () => {
    expect((await send(rafe, 'PATCH', '/projects/EMB/components/x', {})).status).not.toBe(200)
    expect((await send(ines, 'PUT', '/projects/EMB/people/rafe', { role: 'reader' })).status).toBe(200)
    expect((await send(rafe, 'POST', '/items', { title: 'No more' })).status).toBe(403)
    await send(ines, 'PUT', '/projects/EMB/people/rafe', { role: 'lead' })
    expect(await roleOf('rafe')).toBe('lead')
  })

  test('of an administrator is changed by administrators alone, and never that of the last', async () => {
    expect((await send(ines, 'PUT', '/projects/EMB/people/teo', { role: 'member' })).status).toBe(403)
    expect((await send(ines, 'PUT', '/projects/EMB/people/ines', { role: 'admin' })).status).toBe(403)
    const last = await send(teo, 'PUT', '/projects/EMB/people/teo', { role: 'member' })
    expect([last.status, last.body.detail]).toEqual([409, expect.stringContaining('last administrator')])
    expect((await send(teo, 'DELETE', '/projects/EMB/people/teo')).status).toBe(409)
    await send(teo, 'PUT', '/projects/EMB/people/ines', { role: 'admin' })
    expect((await send(teo, 'DELETE', '/projects/EMB/people/teo')).status).toBe(200)
    expect((await teo('/items')).status).toBe(403)
  })

  test('is not given to whoever is no member', async () => {
    expect((await send(ines, 'PUT', '/projects/EMB/people/nobody', { role: 'member' })).status).toBe(404)
  })

  test('that was taken keeps what its holder did in their name', async () => {
    const key = (await send(rafe, 'POST', '/items', { title: 'By Rafe' })).body.key
    await send(ines, 'DELETE', '/projects/EMB/people/rafe')
    expect((await ines(`/items/${key}`)).body.reporterId).toBe('rafe')
    expect((await rafe('/items')).status).toBe(403)
  })
})

describe('a password', () => {
  const change = (body: object) => send(rafe, 'PUT', '/me/password', body)

  test('is changed by who knows the old one; other sessions end, this one goes on', async () => {
    const other = await app.asks('rafe')
    expect((await change({ current: 'wrong', next: PASSWORD })).body.fields).toEqual({ current: 'This is not your password' })
    expect((await change({ current: 'long enough to pass', next: 'password1234' })).body.fields).toHaveProperty('next')
    expect((await change({ current: 'long enough to pass', next: PASSWORD })).status).toBe(200)
    expect([(await rafe('/inbox')).status, (await other('/inbox')).status]).toEqual([200, 401])
    expect([(await signIn('rafe@emberwick.example', 'long enough to pass')).status]).toEqual([401])
    expect((await signIn('rafe@emberwick.example', PASSWORD)).status).toBe(200)
  })

  const askReset = (email: string) => app.call('/api/v1/password-resets', { method: 'POST', body: { email } })
  const reset = (link: string, password = PASSWORD) =>
    app.call('/api/v1/password-resets', { method: 'PUT', body: { secret: link.split('/').at(-1), password } })

  test('that was forgotten is replaced by a link in a mail, once and within the hour', async () => {
    expect((await askReset('rafe@emberwick.example')).status).toBe(202)
    await until('the mail', () => mails.length > 0)
    const link = /\S+\/reset\/\S+/.exec(mails[0]?.text ?? '')?.[0] ?? ''
    expect((await reset(link, 'qwerty12345')).status).toBe(422)
    expect((await reset(link)).status).toBe(200)
    expect((await rafe('/inbox')).status).toBe(401)
    expect((await signIn('rafe@emberwick.example', PASSWORD)).status).toBe(200)
    expect((await reset(link)).status).toBe(401)
    await askReset('rafe@emberwick.example')
    await until('another mail', () => mails.length > 1)
    app.clock.nowMs += 3_600_001
    expect((await reset(/\S+\/reset\/\S+/.exec(mails[1]?.text ?? '')?.[0] ?? '')).status).toBe(401)
  })

  test('reset says the same of an address that nobody has, and mails nobody', async () => {
    const [known, unknown] = [await askReset('rafe@emberwick.example'), await askReset('nobody@emberwick.example')]
    expect([unknown.status, unknown.text]).toEqual([known.status, known.text])
    await until('the mail', () => mails.length > 0)
    expect(mails.map(({ to }) => to)).toEqual(['rafe@emberwick.example'])
  })

  test('reset by hand is an administrator’s: a lead has no such link', async () => {
    expect((await send(ines, 'POST', '/projects/EMB/people/rafe/reset-link')).status).toBe(403)
    const { link } = (await send(teo, 'POST', '/projects/EMB/people/rafe/reset-link')).body
    expect((await reset(link)).status).toBe(200)
  })
})

describe('sessions', () => {
  test('are listed with place and last use, and ended one by one or all others', async () => {
    await signIn('rafe@emberwick.example', 'long enough to pass')
    app.clock.nowMs += 120_000
    const { rows } = (await rafe('/me/sessions')).body
    expect(rows).toHaveLength(2)
    expect(rows[0]).toMatchObject({ isThis: true, usedAtMs: app.clock.nowMs })
    expect(rows[1]).toMatchObject({ isThis: false, place: expect.stringMatching(/^a test at /) })
    expect((await send(rafe, 'DELETE', `/me/sessions/${rows[1].sessionId}`)).status).toBe(200)
    expect((await send(rafe, 'DELETE', `/me/sessions/${rows[1].sessionId}`)).status).toBe(404)
    const other = await app.asks('rafe')
    await send(rafe, 'DELETE', '/me/sessions/others')
    expect([(await rafe('/inbox')).status, (await other('/inbox')).status]).toEqual([200, 401])
  })

  test('end when nobody used them for a week, and after two in any case', async () => {
    for (let day = 0; day < 13; day++) {
      app.clock.nowMs += 86_400_000
      expect((await rafe('/inbox')).status).toBe(200)
    }
    expect((await ines('/inbox')).status).toBe(401)
    app.clock.nowMs += 86_400_001
    expect((await rafe('/inbox')).status).toBe(401)
  })
})

test('days begin by a person’s own zone: what is overdue, and the day that time is booked on', async () => {
  app.clock.nowMs = Date.parse('2026-11-24T11:30:00Z')
  const made = await send(rafe, 'POST', '/items', { project: 'EMB', title: 'Relay sticks', type: 'task', dueOn: '2026-11-24' })
  const { key } = made.body
  const overdue = async (ask: Ask) => (await ask('/items?filter=overdue')).body.rows.map((row: { key: string }) => row.key)
  expect(await overdue(rafe)).not.toContain(key)
  expect((await send(rafe, 'PATCH', '/me/profile', { timeZone: 'Nowhere/Kiln' })).body.fields.timeZone).toContain('Europe/Berlin')
  expect((await send(rafe, 'PATCH', '/me/profile', { timeZone: 'Pacific/Auckland' })).body.timeZone).toBe('Pacific/Auckland')
  expect(await overdue(rafe)).toContain(key)
  expect(await overdue(ines)).not.toContain(key)
  await send(rafe, 'POST', `/items/${key}/time`, { minutes: 30 })
  expect((await rafe(`/items/${key}/time`)).body.rows[0].on).toBe('2026-11-25')
  expect((await send(rafe, 'PATCH', '/me/profile', { timeZone: null })).body.timeZone).toBeNull()
  expect(await overdue(rafe)).not.toContain(key)
})

describe('a further address', () => {
  const claim = (email: string, ask = rafe) => send(ask, 'POST', '/me/addresses', { email })
  const secretIn = async () => {
    await until('the mail', () => mails.length > 0)
    return /\/address\/(\S+)/.exec(mails.at(-1)?.text ?? '')?.[1] ?? ''
  }
  const ownerOf = (email: string) => personByAddress(app.ctx.db, email)?.personId ?? null

  test('counts once it is confirmed by the link that went there, whatever its case', async () => {
    expect((await claim('rafe@old.example')).body).toMatchObject({
      hasMail: true,
      addresses: [{ email: 'rafe@old.example', confirmedAtMs: null }],
    })
    expect(ownerOf('rafe@old.example')).toBeNull()
    const secret = await secretIn()
    expect(mails.at(-1)?.to).toBe('rafe@old.example')
    expect((await send(rafe, 'PUT', '/me/addresses', { secret })).body).toEqual({
      email: 'rafe@old.example',
      confirmedAtMs: expect.any(Number),
    })
    expect(ownerOf('Rafe@OLD.example')).toBe('rafe')
    expect((await send(rafe, 'PUT', '/me/addresses', { secret })).status).toBe(200)
  })

  test('is confirmed by nobody but who claimed it, within a week, and by no link that was changed', async () => {
    await claim('rafe@old.example')
    const secret = await secretIn()
    // Somebody who is led to open the link of a stranger who claimed their address gives it away to nobody.
    expect((await send(ines, 'PUT', '/me/addresses', { secret })).status).toBe(401)
    const [, until, sign] = secret.split('.')
    const other = Buffer.from('ines@emberwick.example').toString('base64url')
    for (const wrong of [`${other}.${until}.${sign}`, `${secret.split('.')[0]}.9999999999999.${sign}`, 'x', ''])
      expect((await send(rafe, 'PUT', '/me/addresses', { secret: wrong })).status).toBe(401)
    app.clock.nowMs += 7 * 86_400_000 + 1
    expect((await send(rafe, 'PUT', '/me/addresses', { secret })).status).toBe(401)
    expect(ownerOf('rafe@old.example')).toBeNull()
  })

  test('is refused where it is another’s, who may be the quicker one', async () => {
    expect((await claim('ines@emberwick.example')).status).toBe(409)
    await claim('shared@old.example')
    const first = await secretIn()
    mails.length = 0
    await claim('shared@old.example', ines)
    expect((await send(ines, 'PUT', '/me/addresses', { secret: await secretIn() })).status).toBe(200)
    expect((await send(rafe, 'PUT', '/me/addresses', { secret: first })).status).toBe(409)
    expect(ownerOf('shared@old.example')).toBe('ines')
  })

  test('is given up by its owner, and free for another', async () => {
    await claim('rafe@old.example')
    await send(rafe, 'PUT', '/me/addresses', { secret: await secretIn() })
    expect((await send(ines, 'DELETE', '/me/addresses/rafe@old.example')).status).toBe(404)
    expect((await send(rafe, 'DELETE', '/me/addresses/Rafe@old.example')).body.addresses).toEqual([])
    expect(ownerOf('rafe@old.example')).toBeNull()
  })

  test('is written down by an administrator where no mail goes out, and by nobody else', async () => {
    await begin(noMailer as never)
    expect((await claim('rafe@old.example')).body.hasMail).toBe(false)
    const path = '/projects/EMB/people/rafe/addresses'
    expect((await send(ines, 'POST', path, { email: 'rafe@old.example' })).status).toBe(403)
    expect((await send(teo, 'GET', path)).body.rows).toEqual([{ email: 'rafe@old.example', confirmedAtMs: null }])
    expect((await send(teo, 'POST', path, { email: 'rafe@old.example' })).body.rows).toEqual([
      { email: 'rafe@old.example', confirmedAtMs: expect.any(Number) },
    ])
    expect((await send(teo, 'POST', '/projects/EMB/people/nobody/addresses', { email: 'x@y.example' })).status).toBe(404)
    expect(ownerOf('rafe@old.example')).toBe('rafe')
  })

  test('invites the person that has it, and nobody new', async () => {
    await claim('rafe@old.example')
    await send(rafe, 'PUT', '/me/addresses', { secret: await secretIn() })
    const invited = await send(ines, 'POST', '/projects/EMB/people', { name: 'R. Lind', email: 'rafe@old.example' })
    expect(invited.body).toEqual({ personId: 'rafe', link: null })
  })
})

test('a person who changes their name bears it everywhere', async () => {
  const renamed = await send(rafe, 'PATCH', '/me/profile', { name: 'Rafe Varga-Lind' })
  expect(renamed.body).toMatchObject({ name: 'Rafe Varga-Lind', initials: 'RV', email: 'rafe@emberwick.example' })
  const people = (await ines('/me')).body.people
  expect(people.find((person: { personId: string }) => person.personId === 'rafe')).toMatchObject({ name: 'Rafe Varga-Lind' })
})
