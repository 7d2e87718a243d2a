import { execFileSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { createServer, type IncomingMessage } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { createTransport } from 'nodemailer'
import { Webhook } from 'standardwebhooks'
import { CodeHost, type PullRequest } from '#code-host/code-host'
import { Deployer } from '#deployer/deployer'
import { Mailbox } from '#mailbox/mailbox'
import { mailPage } from '#outside-page/page'
import { makeEventSender, type EventSender } from '#wire/events'
import { makeServer, readFields, readText, sendJson } from '#wire/json-server'

const REPOSITORY = 'kiln-controller'
const MAIL_PORT = 4671
const PROGRAM =
  `const server = require('node:http').createServer((request, response) => ` +
  `response.end(process.env.SERVICE_VERSION + ' ' + request.method + ' ' + request.url))
server.listen(0, '127.0.0.1', () => console.log('listening ' + server.address().port))
`
let dir: string
let host: CodeHost
const sent: { type: string; subjectId: string; data: Record<string, unknown> }[] = []
const events: EventSender = {
  send: async (type, subjectId, data) => void sent.push({ type, subjectId, data: { ...data } }),
}
const git = (...args: string[]) => execFileSync('git', ['-C', join(dir, 'git', `${REPOSITORY}.git`), ...args], { encoding: 'utf8' }).trim()
const change = (branch: string, message: string, files: Record<string, string>) =>
  host.pushChange({ repository: REPOSITORY, branch, message, by: 'tam', files: () => files })

beforeAll(async () => {
  dir = mkdtempSync(join(tmpdir(), 'dystracer-outside-'))
  host = new CodeHost({ dataDir: dir, events })
  for (const repository of host.repositories) {
    mkdirSync(join(dir, 'git', `${repository}.git`), { recursive: true })
    execFileSync('git', ['init', '--quiet', '--bare', '--initial-branch=main', join(dir, 'git', `${repository}.git`)])
  }
  await host.start()
  await change('main', 'Begin\n', { 'README.md': 'A kiln\n', 'src/main.js': PROGRAM })
})
afterAll(() => rmSync(dir, { recursive: true, force: true }))

describe('the code host', () => {
  test('tells everybody what a push moved, once', async () => {
    expect(sent.at(-1)).toMatchObject({ type: 'dev.cdevents.repository.modified.0.2.0', subjectId: REPOSITORY })
    const before = sent.length
    await host.afterPush(REPOSITORY)
    expect(sent.length).toBe(before)
  })

  test('makes a branch at the tip of another; one that is there is left as it is', async () => {
    await host.createBranch({ repository: REPOSITORY, branch: 'fix/EMB-1-door', from: 'main' })
    expect(git('rev-parse', 'refs/heads/fix/EMB-1-door')).toBe(git('rev-parse', 'refs/heads/main'))
    const tip = await change('fix/EMB-1-door', 'Close the door\n\nFixes: EMB-1\n', { 'src/door.js': 'closed\n' })
    await host.createBranch({ repository: REPOSITORY, branch: 'fix/EMB-1-door', from: 'main' })
    expect(git('rev-parse', 'refs/heads/fix/EMB-1-door')).toBe(tip)
  })

  test.each([
    ['no such repository', () => host.createBranch({ repository: '../elsewhere', branch: 'x', from: 'main' }), 404],
    ['no such branch', () => host.createBranch({ repository: REPOSITORY, branch: 'y', from: 'nowhere' }), 422],
    ['nothing to ask for', () => host.openPullRequest({ repository: REPOSITORY, head: 'main', by: 'tam' }), 422],
    ['no open pull request', () => host.merge({ repository: REPOSITORY, number: 99, by: 'tam' }), 422],
    ['a release named otherwise', () => host.tag({ repository: REPOSITORY, name: '--force' }), 422],
  ] as [string, () => Promise<unknown>, number][])('refuses what cannot be: %s', async (_what, act, status) => {
    await expect(act()).rejects.toMatchObject({ status })
  })

  test.each(['-x', 'a..b', 'a b', '.hidden', 'a.lock', ''])('makes no branch called %j', async (branch) => {
    await expect(host.createBranch({ repository: REPOSITORY, branch, from: 'main' })).rejects.toThrow()
    expect(git('for-each-ref', '--format=%(refname)')).not.toMatch(/hidden|\.lock|a\.\.b/)
  })

  test('opens one pull request for a branch, with the words of its commits, and follows its pushes', async () => {
    const opened = await host.openPullRequest({ repository: REPOSITORY, head: 'fix/EMB-1-door', by: 'tam' })
    expect(opened).toMatchObject({
      number: 1,
      title: 'Close the door',
      body: 'Fixes: EMB-1',
      author: 'Tam Adeyemi',
      state: 'open',
      base: 'main',
    })
    expect((await host.openPullRequest({ repository: REPOSITORY, head: 'fix/EMB-1-door', by: 'rafe' })).number).toBe(1)
    const tip = await change('fix/EMB-1-door', 'Lock it\n', { 'src/door.js': 'closed and locked\n' })
    expect(host.list(REPOSITORY)[0]).toMatchObject({ headSha: tip, version: 2 })
    expect(
      sent.filter(({ type }) => type.startsWith('dev.cdevents.change.')).map(({ type, data }) => [type.split('.')[3], data.version]),
    ).toEqual([
      ['created', 1],
      ['updated', 2],
    ])
  })

  test('merges in git, with both parents, and takes the branch away', async () => {
    const [main, head] = [git('rev-parse', 'main'), git('rev-parse', 'fix/EMB-1-door')]
    const merged = await host.merge({ repository: REPOSITORY, number: 1, by: 'ines' })
    expect(git('rev-parse', 'main')).toBe(merged.mergeSha)
    expect(git('show', '--no-patch', '--format=%P %an', 'main')).toBe(`${main} ${head} Ines Okafor`)
    expect(git('show', 'main:src/door.js')).toBe('closed and locked')
    expect(git('for-each-ref', 'refs/heads/fix')).toBe('')
    await expect(host.merge({ repository: REPOSITORY, number: 1, by: 'ines' })).rejects.toMatchObject({ status: 422 })
  })

  test('squashes all commits of a branch into one', async () => {
    await change('fix/EMB-2', 'Half of it\n', { 'src/a.js': '1\n' })
    await change('fix/EMB-2', 'The other half\n\nFixes: EMB-2\n', { 'src/b.js': '2\n' })
    const { number, body } = await host.openPullRequest({ repository: REPOSITORY, head: 'fix/EMB-2', by: 'tam' })
    expect(body).toBe('- Half of it\n- The other half\n\nFixes: EMB-2')
    const main = git('rev-parse', 'main')
    await host.merge({ repository: REPOSITORY, number, by: 'tam', method: 'squash' })
    expect(git('show', '--no-patch', '--format=%P%n%B', 'main')).toBe(
      `${main}\nThe other half\n\n- Half of it\n- The other half\n\nFixes: EMB-2`,
    )
  })

  test('merges nothing that does not go together, and leaves main where it was', async () => {
    await change('fix/left', 'Left\n', { 'README.md': 'A left kiln\n' })
    const { number } = await host.openPullRequest({ repository: REPOSITORY, head: 'fix/left', by: 'tam' })
    await change('main', 'Right\n', { 'README.md': 'A right kiln\n' })
    const main = git('rev-parse', 'main')
    await expect(host.merge({ repository: REPOSITORY, number, by: 'tam' })).rejects.toMatchObject({ status: 409 })
    expect([git('rev-parse', 'main'), host.list(REPOSITORY).find((pr) => pr.number === number)?.state]).toEqual([main, 'open'])
  })

  test('tags a release once', async () => {
    await host.tag({ repository: REPOSITORY, name: '1.0.0' })
    expect(git('rev-parse', 'v1.0.0')).toBe(git('rev-parse', 'main'))
    await expect(host.tag({ repository: REPOSITORY, name: 'v1.0.0' })).rejects.toMatchObject({ status: 409 })
  })

  test('knows its pull requests after it was started again, each in its newest version', async () => {
    const again = new CodeHost({ dataDir: dir, events })
    expect(again.list()).toEqual(host.list())
    const all = JSON.parse(readFileSync(join(dir, 'pull-requests.json'), 'utf8')) as PullRequest[]
    writeFileSync(
      join(dir, 'pull-requests.json'),
      JSON.stringify([...all.map((pr) => ({ ...pr, title: 'An old title', version: 0 })), ...all]),
    )
    expect(new CodeHost({ dataDir: dir, events }).list()).toEqual(host.list())
  })
})

describe('the deployer', () => {
  const deployer = () =>
    new Deployer({ dataDir: dir, gitDir: join(dir, 'git'), events, telemetry: { serverUrl: 'http://127.0.0.1:9', token: 'none' } })

  test('really runs what was tagged, tells it, and starts it again after it was stopped', async () => {
    const first = deployer()
    const sha = git('rev-parse', 'v1.0.0^{commit}')
    await first.deploy({ deploymentId: 'd1', service: REPOSITORY, release: '1.0.0', sha, environment: 'staging', by: 'ines' })
    expect(first.list()).toEqual([{ service: REPOSITORY, environment: 'staging', release: '1.0.0', isUp: true }])
    expect(sent.at(-1)).toMatchObject({
      type: 'dev.cdevents.service.deployed.0.2.0',
      data: { deploymentId: 'd1', release: '1.0.0', environment: 'staging', by: 'ines' },
    })
    expect(readdirSync(join(dir, 'running/staging'))).toEqual([`${REPOSITORY}-1.0.0`])
    await first.stopAll()
    expect(first.list()[0]?.isUp).toBe(false)
    const second = deployer()
    await second.resume()
    expect(second.list()).toEqual([{ service: REPOSITORY, environment: 'staging', release: '1.0.0', isUp: true }])
    await second.stopAll()
  })

  test.each([
    { service: '../../etc', release: '1.0.0', sha: 'a'.repeat(40), environment: 'staging' },
    { service: REPOSITORY, release: '1.0.0', sha: '--output=/tmp/x', environment: 'staging' },
    { service: REPOSITORY, release: '../1', sha: 'a'.repeat(40), environment: 'staging' },
    { service: REPOSITORY, release: '1.0.0', sha: 'a'.repeat(40), environment: 'a/b' },
  ])('takes no deployment that leads out of its folder: %j', async (input) => {
    await expect(deployer().deploy({ deploymentId: 'x', ...input })).rejects.toMatchObject({ status: 422 })
  })
})

describe('events', () => {
  const SECRET = `whsec_${Buffer.from('a secret of some length for tests').toString('base64')}`

  /** A server that gives the answers of a list, the last one for ever, and keeps what it was sent. */
  async function listening(
    statuses: number[],
  ): Promise<{ url: string; got: { headers: IncomingMessage['headers']; body: string; url: string }[]; close: () => void }> {
    const got: { headers: IncomingMessage['headers']; body: string; url: string }[] = []
    const server = createServer((request, response) => {
      void readText(request).then((body) => {
        got.push({ headers: request.headers, body, url: request.url ?? '' })
        response.writeHead(statuses[Math.min(got.length, statuses.length) - 1] ?? 200).end()
      })
    })
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    return { url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, got, close: () => void server.close() }
  }

  test('are signed so that the receiver can tell, and sent again under the same id while the server is busy', async () => {
    const { url, got, close } = await listening([503, 429, 200])
    await makeEventSender({ serverUrl: url, secret: SECRET, isMuted: () => false }).send('dev.cdevents.build.started.0.2.0', 'kiln/1', {
      number: 1,
    })
    close()
    expect(got).toHaveLength(3)
    expect(new Set(got.map(({ headers }) => headers['webhook-id'])).size).toBe(1)
    for (const { body, headers } of got) {
      const read = new Webhook(SECRET).verify(body, headers as Record<string, string>)
      expect(read).toMatchObject({ specversion: '1.0', data: { subject: { id: 'kiln/1', type: 'build' }, customData: { number: 1 } } })
    }
    expect(() => new Webhook(SECRET).verify(`${got[0]?.body} `, got[0]?.headers as Record<string, string>)).toThrow()
  })

  test('that are refused are not sent again; muted ones are not sent at all', async () => {
    const { url, got, close } = await listening([400])
    await makeEventSender({ serverUrl: url, secret: SECRET, isMuted: () => false }).send('a.b.c', 'x', {})
    await makeEventSender({ serverUrl: url, secret: SECRET, isMuted: () => true }).send('a.b.c', 'x', {})
    close()
    expect(got).toHaveLength(1)
  })
})

describe('the small server', () => {
  const server = makeServer([
    { method: 'POST', path: /^\/fields$/, handle: async (request, response) => sendJson(response, await readFields(request)) },
    {
      method: 'GET',
      path: /^\/broken$/,
      handle: () => {
        throw new Error('out of clay')
      },
    },
  ])
  let url: string
  beforeAll(async () => {
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  })
  afterAll(() => void server.close())
  const post = (body: string, headers: Record<string, string> = {}) => fetch(`${url}/fields`, { method: 'POST', body, headers })

  test('reads JSON and forms alike', async () => {
    expect(await (await post('{"name":"1.0.0"}', { 'content-type': 'application/json' })).json()).toEqual({ name: '1.0.0' })
    expect(await (await post('name=1.0.0&by=a%20b', { 'content-type': 'application/x-www-form-urlencoded' })).json()).toEqual({
      name: '1.0.0',
      by: 'a b',
    })
  })

  test('refuses pages of another origin, what is too large, and what it does not know', async () => {
    expect((await post('name=x', { 'sec-fetch-site': 'cross-site' })).status).toBe(403)
    expect((await post('x'.repeat((1 << 20) + 1))).status).toBe(413)
    expect((await fetch(`${url}/elsewhere`)).status).toBe(404)
    expect((await fetch(`${url}/fields`)).status).toBe(404)
  })

  test('says what went wrong, and goes on', async () => {
    const answer = await fetch(`${url}/broken`)
    expect([answer.status, await answer.text()]).toEqual([500, 'out of clay'])
    expect((await post('a=b')).status).toBe(200)
  })
})

describe('the mailbox', () => {
  const mailbox = new Mailbox()
  const answered = new Mailbox()
  beforeAll(async () => {
    await mailbox.listen(MAIL_PORT)
    await answered.listen(MAIL_PORT + 1)
  })
  afterAll(async () => {
    await mailbox.close()
    await answered.close()
  })
  const transport = createTransport({ host: '127.0.0.1', port: MAIL_PORT, secure: false, ignoreTLS: true })
  const mail = (given: object = {}) =>
    transport.sendMail({
      from: 'Dystracer <d@emberwick.example>',
      to: 'rafe@emberwick.example',
      subject: 'EMB-1 Door',
      text: 'Look',
      messageId: '<m1@x>',
      ...given,
    })

  test('keeps the newest first, in threads', async () => {
    await mail()
    await mail({ messageId: '<m2@x>', references: '<m1@x>', inReplyTo: '<m1@x>', text: 'Again' })
    expect(mailbox.mails.map(({ text, threadId }) => [text.trim(), threadId])).toEqual([
      ['Again', '<m1@x>'],
      ['Look', '<m1@x>'],
    ])
    expect(mailPage(mailbox).match(/<article>/g)).toHaveLength(1)
  })

  test('shows a hostile mail as text', async () => {
    await mail({
      subject: '<script>alert(1)</script>',
      text: '<img src=x onerror=alert(1)>',
      html: '<script>alert(2)</script>"\'>',
      messageId: '<m3@x>',
    })
    const page = mailPage(mailbox, '<b>said</b>').replace(/<script>setInterval[\s\S]*<\/script>/, '')
    expect(page).not.toMatch(/<script|<img|<b>said/)
    expect(page).toMatch(/<iframe sandbox [^>]*data-letter="&#60;script/)
  })

  test('answers in the thread, to where the mail says, with the mail quoted', async () => {
    await mail({ replyTo: 'reply+EMB-1@emberwick.example', messageId: '<m4@x>', references: '<m1@x>' })
    await mailbox.answer(mailbox.mails[0]?.id ?? 0, 'It is done', MAIL_PORT + 1)
    expect(answered.mails[0]).toMatchObject({
      from: 'rafe@emberwick.example',
      to: 'reply+EMB-1@emberwick.example',
      subject: 'Re: EMB-1 Door',
      threadId: '<m1@x>',
    })
    expect(answered.mails[0]?.text).toMatch(/^It is done\n\nOn .*, Dystracer wrote:\n> Look/)
    await expect(mailbox.answer(9999, 'x', MAIL_PORT + 1)).rejects.toMatchObject({ status: 404 })
  })
})
