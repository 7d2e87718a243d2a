import { afterEach, describe, expect, test } from '@jest/globals'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { request } from 'node:https'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { SMTPServer } from 'smtp-server'
import { makeConfig } from '#platform/config/config'
import { readEnv } from '#platform/config/env'
import { makeSmtpMailer } from '#platform/mail/smtp-mailer'
import { MessageRefused } from '#platform/outside-error'
import { startApp, type App, type AppOptions } from './app-harness.js'

const TLS = join(import.meta.dirname, '../../test-data/tls')
const apps: App[] = []
const servers: SMTPServer[] = []
afterEach(async () => {
  for (const app of apps.splice(0)) await app.stop()
  for (const server of servers.splice(0)) await new Promise<void>((resolve) => server.close(() => resolve()))
})
async function begin(config: AppOptions['config'] = {}): Promise<App> {
  const app = await startApp({ config })
  apps.push(app)
  return app
}

describe('what an operator sets', () => {
  test('is read from variables, and a wrong one stops the start with its name', () => {
    const config = makeConfig(
      'real',
      readEnv(undefined, { DYSTRACER_PROXIES: '1', DYSTRACER_MAIL_TRUSTED: 'mx.one.example, mx.two.example' }),
    )
    expect([config.proxies, config.mailTrustedHosts]).toEqual([1, ['mx.one.example', 'mx.two.example']])
    for (const [name, value] of [
      ['DYSTRACER_PROXIES', 'many'],
      ['DYSTRACER_SMTP_URL', 'mail.example.org'],
      ['DYSTRACER_MAIL_FROM', 'nobody'],
    ] as const)
      expect(() => readEnv(undefined, { [name]: value })).toThrow(name)
    const file = join(mkdtempSync(join(tmpdir(), 'dystracer-config-')), 'dystracer.conf')
    writeFileSync(file, '# where it listens\nDYSTRACER_PORT=4400\nDYSTRACER_HOST="10.0.0.2"\n')
    expect(makeConfig('real', readEnv(file, { DYSTRACER_PORT: '4500' }))).toMatchObject({ port: 4500, host: '10.0.0.2' })
    writeFileSync(file, 'DYSTRACER_PROT=4400\n')
    expect(() => readEnv(file, {})).toThrow('DYSTRACER_PROT is no variable')
    expect(() => readEnv(`${file}.gone`, {})).toThrow('cannot be read')
    expect(() => makeConfig('real', readEnv(undefined, { DYSTRACER_TLS_CERT: 'cert.pem' }))).toThrow('go together')
  })

  test('TLS: the server speaks it with the given files, and marks its cookies for it', async () => {
    const app = await begin({ tls: { certPath: join(TLS, 'cert.pem'), keyPath: join(TLS, 'key.pem') } })
    const answer = await new Promise<{ status: number; cookies: string[] }>((resolve, reject) => {
      const body = JSON.stringify({ email: 'ines@emberwick.example', password: 'long enough to pass' })
      request(
        {
          host: '127.0.0.1',
          port: app.server.port,
          path: '/api/v1/session',
          method: 'POST',
          ca: readFileSync(join(TLS, 'cert.pem')),
          headers: { 'content-type': 'application/json', 'content-length': Buffer.byteLength(body) },
        },
        (response) => {
          response.resume()
          resolve({ status: response.statusCode ?? 0, cookies: response.headers['set-cookie'] ?? [] })
        },
      )
        .on('error', reject)
        .end(body)
    })
    expect(answer.status).toBe(200)
    expect(answer.cookies.join()).toMatch(/dys_session=.*secure/i)
  })

  test('proxies: their word about the client is believed, and nobody else’s', async () => {
    const signIn = (app: App, from: string) =>
      app.call('/api/v1/session', {
        method: 'POST',
        body: { email: `${from}@emberwick.example`, password: 'not this' },
        headers: { 'x-forwarded-for': `203.0.113.9, ${from}` },
      })
    const tries = async (app: App) => {
      const statuses: number[] = []
      for (let client = 1; client <= 14; client++) statuses.push((await signIn(app, `198.51.100.${client}`)).status)
      return statuses
    }
    // Behind one proxy each client has limits of its own; without one, what a client says of itself changes nothing.
    expect((await tries(await begin({ proxies: 1 }))).filter((status) => status === 429)).toEqual([])
    expect((await tries(await begin())).filter((status) => status === 429).length).toBeGreaterThan(0)
  })
})

describe('what a monitoring program reads', () => {
  test('is OpenMetrics, for a token that reads all projects or a lead, and for nobody else', async () => {
    const app = await begin()
    const read = (token?: string) => app.call('/metrics', { ...(token && { headers: { authorization: `Bearer ${token}` } }) })
    expect((await read()).status).toBe(401)
    expect((await read(app.token('read', { project: 'EMB' }))).status).toBe(403)
    expect((await read(app.token('telemetry'))).status).toBe(403)
    const metrics = await read(app.token('read'))
    expect([metrics.status, metrics.headers.get('content-type')]).toEqual([200, expect.stringContaining('application/openmetrics-text')])
    const entries = Number(/^dystracer_journal_entries (\d+)$/m.exec(metrics.text)?.[1])
    const rafe = await app.asks('rafe')
    await rafe('/items', { method: 'POST', body: { title: 'One more' } })
    const after = await read(app.token('read'))
    expect(Number(/^dystracer_journal_entries (\d+)$/m.exec(after.text)?.[1])).toBeGreaterThan(entries)
    expect(after.text).toContain('dystracer_items_open 1')
    expect(after.text.trimEnd().endsWith('# EOF')).toBe(true)
    expect((await app.call('/readyz')).body).toEqual({ status: 'ready', threads: {}, disk: 'has room' })
  })
})

describe('mail out', () => {
  const listen = (refuse: (address: string) => number | null, takesMs = 0) =>
    new Promise<string>((resolve) => {
      const server = new SMTPServer({
        authOptional: true,
        disabledCommands: ['AUTH', 'STARTTLS'],
        onRcptTo: ({ address }, _session, done) => {
          const code = refuse(address)
          done(code === null ? null : Object.assign(new Error('no such mailbox'), { responseCode: code }))
        },
        onData: (stream, _session, done) => {
          stream.resume()
          stream.on('end', () => setTimeout(done, takesMs))
        },
      })
      servers.push(server)
      const bound = server.listen(0, '127.0.0.1', () => resolve(`smtp://127.0.0.1:${(bound.address() as { port: number }).port}`))
    })
  const mail = (to: string) => ({ to, subject: 'News', text: 'There is some' })

  test('takes several that are sent at once over a slow connection, each to its end', async () => {
    const url = await listen(() => null, 400)
    const mailer = makeSmtpMailer({ url, from: 'Dystracer <d@example.org>' })
    await mailer.send(mail('first@example.org'))
    await Promise.all(['a', 'b', 'c'].map((name) => mailer.send(mail(`${name}@example.org`))))
  })

  test('tells an address that is refused for good, one to try again, and a server that is away apart', async () => {
    const url = await listen((address) => (address.startsWith('gone') ? 550 : address.startsWith('later') ? 451 : null))
    const mailer = makeSmtpMailer({ url, from: 'Dystracer <d@example.org>' })
    await mailer.send(mail('here@example.org'))
    await expect(mailer.send(mail('gone@example.org'))).rejects.toMatchObject({ isFinal: true })
    await expect(mailer.send(mail('later@example.org'))).rejects.toMatchObject({ isFinal: false })
    const away = makeSmtpMailer({ url: 'smtp://127.0.0.1:9', from: 'd@example.org' })
    const error: unknown = await away.send(mail('here@example.org')).catch((reason: unknown) => reason)
    expect(error).toBeInstanceOf(Error)
    expect(error).not.toBeInstanceOf(MessageRefused)
  })
})

test('who asks too often is told to come again, and holds nobody else up', async () => {
  const app = await startApp({ config: { requestsPerMinute: 30 } })
  try {
    const ines = await app.asks('ines')
    const rafe = await app.asks('rafe')
    const token = { headers: { authorization: `Bearer ${app.token('read')}` } }
    // Signing in was a request, too; of a guest.
    for (let turn = 0; turn < 40; turn++) await ines('/items?limit=1')
    const refused = await ines('/items?limit=1')
    expect(refused.status).toBe(429)
    expect(refused.body.code).toBe('too-many-requests')
    expect(Number(refused.headers.get('retry-after'))).toBeGreaterThan(0)
    expect((await rafe('/items?limit=1')).status).toBe(200)
    expect((await app.call('/api/v1/items?limit=1', token)).status).toBe(200)
    app.clock.nowMs += 10_000
    expect((await ines('/items?limit=1')).status).toBe(200)
  } finally {
    await app.stop()
  }
})
