import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { mailerSlot } from '#platform/mail/mailer.slot'
import type { OutgoingMail } from '#platform/mail/mailer'
import { replaced } from '#platform/context'
import { chainOlder, findBrokenLink, headOf } from '#platform/journal/chain'
import { setPassword } from '#subjects/people/passwords'
import { chainOlderAudit, findBrokenAudit } from '#subjects/audit/index'
import { startApp, until, type App, type Ask } from './app-harness.js'

const mails: OutgoingMail[] = []
let app: App
let teo: Ask
beforeAll(async () => {
  app = await startApp({ replacements: [replaced(mailerSlot, { send: async (mail) => void mails.push(mail) })] })
  teo = await app.asks('teo')
})
afterAll(() => app.stop())

const trail = async (kind?: string) => (await teo(`/audit?limit=200${kind ? `&kind=${kind}` : ''}`)).body.rows
const signIn = (email: string, password: string) => app.call('/api/v1/session', { method: 'POST', body: { email, password } })

describe('the audit trail', () => {
  test('names who came in and who was refused, and never what they typed', async () => {
    await signIn('nobody@elsewhere.example', 'a secret of somebody')
    expect((await trail('signed-in'))[0]).toMatchObject({ actor: 'person:teo', about: 'teo' })
    expect((await trail('sign-in-refused'))[0]).toMatchObject({
      actor: 'guest',
      about: 'nobody@elsewhere.example',
      facts: { why: 'no such account' },
    })
    expect(JSON.stringify(await trail())).not.toContain('a secret of somebody')
  })

  test('notes tokens, roles and exports with who did it, and a token that is heard from a new place', async () => {
    const made = (await teo('/projects/EMB/tokens', { method: 'POST', body: { name: 'build service', scope: 'read' } })).body
    const asTokenFrom = (address: string) =>
      app.call('/api/v1/items?limit=1', { headers: { authorization: `Bearer ${made.token}`, 'x-forwarded-for': address } })
    await asTokenFrom('198.51.100.1')
    app.ctx.db.prepare(`UPDATE access_token SET places = '["198.51.100.7"]' WHERE name = 'build service'`).run()
    await asTokenFrom('198.51.100.2')
    await teo('/projects/EMB/people/rafe', { method: 'PUT', body: { role: 'lead' } })
    await teo('/items.csv?filter=relay')
    await teo(`/projects/EMB/tokens/${made.row.tokenId}`, { method: 'DELETE' })
    const kinds = (await trail()).map((row: { kind: string }) => row.kind)
    for (const kind of ['token-made', 'token-used-from-new-place', 'role-changed', 'exported', 'token-taken-back'])
      expect(kinds).toContain(kind)
    expect((await trail('role-changed'))[0]).toMatchObject({ about: 'rafe', facts: { project: 'EMB', role: 'lead' } })
    expect((await trail('token-made'))[0].facts.scope).toBe('read')
    expect(JSON.stringify(await trail())).not.toContain(made.token)
  })

  test('is for administrators, pages backwards, and leaves as a file that no spreadsheet runs', async () => {
    const ines = await app.asks('ines')
    expect((await ines('/audit')).status).toBe(403)
    expect((await ines('/audit.csv')).status).toBe(403)
    await signIn('=1+1@elsewhere.example', 'x')
    const first = (await teo('/audit?limit=2')).body
    const second = (await teo(`/audit?limit=2&cursor=${first.nextCursor}`)).body
    expect(second.rows[0].auditId).toBeLessThan(first.rows[1].auditId)
    const csv = (await teo('/audit.csv')).text
    expect(csv.split('\r\n')[0]).toBe('at,kind,actor,about,place,facts')
    expect(csv).toContain(`,"'=1+1@elsewhere.example",`)
  })

  test('holds whatever people call things: no half of a character, and nothing that ends a text', async () => {
    const half = String.fromCharCode(0xd83d)
    for (const name of [`kiln ${half}`, 'kiln\0works', `${'a'.repeat(59)}${half}`])
      expect((await teo('/projects/EMB/tokens', { method: 'POST', body: { name, scope: 'read' } })).status).toBe(201)
    await signIn(`nobody\0${half}@elsewhere.example`, 'x')
    await signIn(`${'🙂'.repeat(90)}@elsewhere.example`, 'x')
    expect(findBrokenAudit(app.ctx.db)).toBeNull()
  })

  test('names the first line that was changed or taken away; what is older than hashes is chained once', () => {
    const { db } = app.ctx
    expect(findBrokenAudit(db)).toBeNull()
    const breakWith = (statement: string) => {
      db.exec('SAVEPOINT forging')
      db.prepare(statement).run()
      const found = findBrokenAudit(db)
      db.exec('ROLLBACK TO forging')
      db.exec('RELEASE forging')
      return found
    }
    expect(breakWith("UPDATE audit_entry SET actor = 'person:somebody' WHERE audit_id = 3")).toContain('line 3 ')
    expect(breakWith("UPDATE audit_entry SET facts = '{}' WHERE audit_id = 2")).toContain('line 2 ')
    expect(breakWith('UPDATE audit_entry SET chain = NULL WHERE audit_id = 3')).toContain('line 3 ')
    expect(breakWith('DELETE FROM audit_entry WHERE audit_id = 3')).toContain('before line 4 ')
    expect(breakWith('DELETE FROM audit_entry WHERE audit_id < 3')).toContain('before line 3 ')
    const chains = () => db.prepare('SELECT chain FROM audit_entry ORDER BY audit_id').pluck().all()
    const before = chains()
    db.prepare('UPDATE audit_entry SET chain = NULL WHERE audit_id <= 4').run()
    chainOlderAudit(db)
    expect(chains()).toEqual(before)
  })

  test('Health says what was last heard, for administrators alone', async () => {
    expect((await (await app.asks('ines'))('/health')).status).toBe(403)
    const health = (await teo('/health')).body
    expect(health.last).toMatchObject({ push: null, backup: null })
    expect(health.disk).toMatchObject({ isLow: false })
    expect(health.files[0]).toMatchObject({ name: 'dystracer.db' })
    expect(health.journal.chain).toHaveLength(64)
  })
})

describe('an account', () => {
  test('is locked for a while after ten wrong passwords in a row, told by mail, and opened by a new password', async () => {
    const wrong = () => {
      // Past the limit of each minute.
      app.clock.nowMs += 61_000
      return signIn('wren@emberwick.example', 'not the password')
    }
    for (let turn = 0; turn < 9; turn++) expect((await wrong()).status).toBe(401)
    app.clock.nowMs += 61_000
    expect((await signIn('wren@emberwick.example', 'long enough to pass')).status).toBe(200)
    for (let turn = 0; turn < 10; turn++) expect((await wrong()).status).toBe(401)
    const locked = await signIn('wren@emberwick.example', 'long enough to pass')
    expect([locked.status, locked.body.detail]).toEqual([429, expect.stringContaining('15 more minutes')])
    await until('the mail about it', () => mails.length > 0)
    expect(mails[0]).toMatchObject({ to: 'wren@emberwick.example', subject: expect.stringContaining('locked') })
    expect((await trail('account-locked'))[0]).toMatchObject({ about: 'wren' })
    await setPassword(app.ctx, 'wren', 'another good password')
    app.clock.nowMs += 61_000
    expect((await signIn('wren@emberwick.example', 'another good password')).status).toBe(200)
  })
})

describe('the chain of the journal', () => {
  test('holds, and names the first entry that was changed, removed or put in', () => {
    const { db } = app.ctx
    const head = headOf(db)
    expect(findBrokenLink(db)).toBeNull()
    expect(findBrokenLink(db, head)).toBeNull()
    const seq = Math.floor(head.seq / 2)
    const breakWith = (statement: string) => {
      db.exec('SAVEPOINT forging')
      db.prepare(statement).run()
      const found = findBrokenLink(db, head)
      db.exec('ROLLBACK TO forging')
      db.exec('RELEASE forging')
      return found
    }
    expect(breakWith(`UPDATE journal SET actor = 'person:somebody' WHERE seq = ${seq}`)).toContain(`entry ${seq} `)
    expect(breakWith(`UPDATE journal SET body = '{}' WHERE seq = ${seq}`)).toContain(`entry ${seq} `)
    expect(breakWith(`DELETE FROM journal WHERE seq = ${seq}`)).toContain(`entry ${seq + 1} `)
    expect(breakWith(`DELETE FROM journal WHERE seq = ${head.seq}`)).toContain('is gone')
    // Whoever makes the whole chain anew is found out by the head that was kept elsewhere.
    db.exec('SAVEPOINT forging')
    db.prepare(`UPDATE journal SET actor = 'person:somebody' WHERE seq = ${seq}`).run()
    db.prepare('UPDATE journal SET chain = NULL').run()
    db.exec('RELEASE forging')
    chainOlder(db)
    expect(findBrokenLink(db)).toBeNull()
    expect(findBrokenLink(db, head)).toContain('not the one whose head was kept')
  })
})
