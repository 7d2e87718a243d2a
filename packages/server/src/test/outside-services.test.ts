import { deployerSlot } from '#subjects/releases/deployer.slot'
import { replaced } from '#platform/context'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import Koa from 'koa'
import { makeHttpCodeHost } from '#subjects/code/http-code-host'
import { makeHttpDeployer } from '#subjects/releases/http-deployer'
import { verifyTables } from '#verify-tables'
import { OutsideError } from '#platform/outside-error'
import type { Deployer } from '#subjects/releases/deployer'
import { staticMiddleware } from '#platform/http/static-files'
import { seeDeployment } from '#subjects/releases/deployments.commands'
import { startApp, type App, type Ask } from './app-harness.js'

const listen = async (server: Server): Promise<string> => {
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}`
}

describe('a deployment', () => {
  let app: App
  let ines: Ask
  let rafe: Ask
  let wren: Ask
  let isDeployerDown = false
  const deployed: Parameters<Deployer['deploy']>[0][] = []
  beforeAll(async () => {
    const deployer: Deployer = {
      deploy: async (input) => {
        if (isDeployerDown) throw new OutsideError('/api/deployments did not answer')
        deployed.push(input)
      },
    }
    app = await startApp({ replacements: [replaced(deployerSlot, deployer)] })
    ines = await app.asks('ines')
    rafe = await app.asks('rafe')
    wren = await app.asks('wren')
    app.ctx.journal.write((writer) => {
      for (const name of ['1.0.0', '1.1.0'])
        writer.append({
          kind: 'release-found',
          actor: 'system',
          subjects: [`release:kiln@${name}`],
          body: { service: 'kiln', name, tag: `v${name}`, sha: name.replaceAll('.', '').padEnd(40, '0'), isRewritten: false },
        })
    })
  })
  afterAll(async () => {
    expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
    await app.stop()
  })
  const ask = (who: Ask, release: string, environment: string) =>
    who('/deployments', { method: 'POST', body: { service: 'kiln', release, environment } })
  const approve = (who: Ask, id: string) => who(`/deployments/${id}/approve`, { method: 'POST', body: {} })
  const stateOf = (release: string, environment: string) =>
    app.ctx.db
      .prepare<object, { id: string; state: string }>(
        'SELECT deployment_id AS id, state FROM deployment WHERE release = @release AND environment = @environment ORDER BY at_ms DESC',
      )
      .get({ release, environment })
  const runs = (release: string, environment: string) =>
    seeDeployment(app.ctx, {
      deploymentId: stateOf(release, environment)?.id ?? 'by-hand',
      service: 'kiln',
      release,
      environment,
      atMs: app.clock.nowMs,
      by: 'rafe',
      idempotencyKey: `seen ${release} ${environment}`,
    })

  test('is asked for by members, of what there is', async () => {
    expect((await ask(wren, '1.0.0', 'staging')).body.code).toBe('not-allowed')
    for (const [release, environment] of [
      ['9.9.9', 'staging'],
      ['1.0.0', 'the moon'],
    ])
      expect((await ask(rafe, release ?? '', environment ?? '')).body).toMatchObject({
        code: 'invalid-input',
        fields: { release: expect.stringContaining('no such') },
      })
    expect(deployed).toEqual([])
  })

  test('goes out at once where no approval is needed, with what the deployer has to know', async () => {
    expect((await ask(rafe, '1.0.0', 'staging')).status).toBe(200)
    expect(deployed).toEqual([
      expect.objectContaining({
        service: 'kiln',
        release: '1.0.0',
        tag: 'v1.0.0',
        sha: `100${'0'.repeat(37)}`,
        environment: 'staging',
        by: 'rafe',
      }),
    ])
  })

  test('to production waits; asked twice it is one, and the gate is closed until the release ran in staging', async () => {
    await ask(rafe, '1.1.0', 'production')
    await ask(rafe, '1.1.0', 'production')
    const { id, state } = stateOf('1.1.0', 'production') ?? { id: '', state: '' }
    expect(state).toBe('asked')
    expect(
      app.ctx.db.prepare('SELECT count(*) AS count FROM deployment WHERE release = ? AND environment = ?').get('1.1.0', 'production'),
    ).toEqual({
      count: 1,
    })
    expect((await approve(rafe, id)).body.code).toBe('not-allowed')
    expect((await approve(ines, id)).body).toMatchObject({ code: 'gate-closed', facts: { gates: ['ran-in-staging'] } })
    expect(deployed.filter(({ environment }) => environment === 'production')).toEqual([])
    await ask(rafe, '1.1.0', 'staging')
    runs('1.1.0', 'staging')
    expect((await approve(ines, id)).status).toBe(200)
    expect(deployed.at(-1)).toMatchObject({ deploymentId: id, environment: 'production', by: 'ines' })
    expect((await approve(ines, id)).body.code).toBe('conflict')
    expect((await approve(ines, 'no-such')).body.code).toBe('not-found')
  })

  test('that the deployer does not take is told, and can be asked for again', async () => {
    isDeployerDown = true
    const again = await ask(rafe, '1.0.0', 'staging')
    expect(again.body).toMatchObject({ code: 'outside-unreachable', detail: expect.stringContaining('Ask again') })
    expect(stateOf('1.0.0', 'staging')?.state).toBe('failed')
    isDeployerDown = false
    const before = deployed.length
    app.clock.nowMs += 1000
    expect((await ask(rafe, '1.0.0', 'staging')).status).toBe(200)
    expect(deployed).toHaveLength(before + 1)
  })

  test('of which nothing was heard goes out again when it is asked for again, as the same one', async () => {
    const [first, count] = [stateOf('1.0.0', 'staging'), deployed.length]
    expect(first?.state).toBe('asked')
    await ask(rafe, '1.0.0', 'staging')
    expect(stateOf('1.0.0', 'staging')).toEqual(first)
    expect(deployed.slice(count)).toEqual([expect.objectContaining({ deploymentId: first?.id })])
  })

  test('that is seen twice, or in an environment that nobody knows, changes nothing more', () => {
    const count = () =>
      app.ctx.db.prepare<[], { count: number }>("SELECT count(*) AS count FROM journal WHERE kind = 'deployment-seen'").get()?.count
    runs('1.1.0', 'production')
    const before = count()
    runs('1.1.0', 'production')
    seeDeployment(app.ctx, {
      deploymentId: 'x',
      service: 'kiln',
      release: '1.1.0',
      environment: 'the moon',
      atMs: 1,
      by: null,
      idempotencyKey: 'x',
    })
    seeDeployment(app.ctx, {
      deploymentId: 'y',
      service: 'elsewhere',
      release: '1.1.0',
      environment: 'staging',
      atMs: 1,
      by: null,
      idempotencyKey: 'y',
    })
    expect(count()).toBe(before)
  })
})

describe('the services outside, over HTTP', () => {
  let answer: { status: number; body: string } = { status: 200, body: '' }
  const asked: { method: string | undefined; url: string | undefined; body: string }[] = []
  const outside = createServer((request, response) => {
    let body = ''
    request.on('data', (chunk: Buffer) => {
      body += chunk.toString()
    })
    request.on('end', () => {
      asked.push({ method: request.method, url: request.url, body })
      response.writeHead(answer.status).end(answer.body)
    })
  })
  let url = ''
  beforeAll(async () => {
    url = await listen(outside)
  })
  afterAll(() => void outside.close())

  const pullRequest = {
    repository: 'kiln',
    number: 3,
    title: 'Door',
    body: '',
    state: 'open',
    author: 'Rafe Varga',
    head: 'fix/EMB-1',
    base: 'main',
    headSha: 'a'.repeat(40),
    mergeSha: null,
    createdAtMs: 1,
    updatedAtMs: 2,
    version: 1,
  }

  test('are asked as they understand it', async () => {
    const host = makeHttpCodeHost({ baseUrl: url, token: 'adapter-secret-1' }, 'outside:')
    answer = { status: 200, body: JSON.stringify([pullRequest]) }
    expect(await host.listPullRequests('a b/&?')).toEqual([pullRequest])
    expect(asked.at(-1)).toMatchObject({ method: 'GET', url: '/api/pull-requests?repository=a%20b%2F%26%3F' })
    answer = { status: 200, body: JSON.stringify(pullRequest) }
    expect((await host.openPullRequest({ repository: 'kiln', head: 'fix/EMB-1', by: 'rafe' })).number).toBe(3)
    answer = { status: 200, body: '' }
    await host.createBranch({ repository: 'kiln', branch: 'fix/EMB-1', from: 'main', by: 'rafe' })
    await host.mergePullRequest({ repository: 'kiln', number: 3, by: 'rafe' })
    const input = { deploymentId: 'd', service: 'kiln', release: '1', tag: 'v1', sha: 'a'.repeat(40), environment: 'staging', by: 'rafe' }
    await makeHttpDeployer({ baseUrl: url, token: null }).deploy(input)
    expect(JSON.parse(asked.at(-1)?.body ?? '')).toEqual(input)
  })

  test.each([
    [409, 'the branch does not merge cleanly', /answered 409: the branch does not merge cleanly/],
    [500, 'x'.repeat(5000), /answered 500: x{200}$/],
    [200, '{"half":', /did not answer: /],
  ])('that answer %d with %j refuse in words that say which', async (status, body, words) => {
    answer = { status, body }
    const refusal = makeHttpCodeHost({ baseUrl: url, token: 'adapter-secret-1' }, 'outside:').mergePullRequest({
      repository: 'kiln',
      number: 3,
      by: 'rafe',
    })
    await expect(refusal).rejects.toThrow(OutsideError)
    await expect(makeHttpDeployer({ baseUrl: url, token: null }).deploy({} as Parameters<Deployer['deploy']>[0])).rejects.toThrow(words)
  })

  test('that answer something else than was asked for are not believed', async () => {
    answer = { status: 200, body: JSON.stringify([{ ...pullRequest, state: 'half-open' }]) }
    await expect(makeHttpCodeHost({ baseUrl: url, token: 'adapter-secret-1' }, 'outside:').listPullRequests('kiln')).rejects.toThrow()
  })

  test('that are not there do not answer', async () => {
    const gone = createServer()
    const goneUrl = await listen(gone)
    await new Promise((resolve) => gone.close(resolve))
    await expect(makeHttpCodeHost({ baseUrl: goneUrl, token: null }, 'outside:').listPullRequests('kiln')).rejects.toThrow(OutsideError)
  })
})

describe('the pages of the interface', () => {
  const dir = mkdtempSync(join(tmpdir(), 'dystracer-web-'))
  const web = join(dir, 'web')
  const app = new Koa().use(staticMiddleware(web)).use(async (koa) => {
    koa.status = 418
  })
  const server = createServer(app.callback())
  let url = ''
  beforeAll(async () => {
    mkdirSync(join(web, 'assets'), { recursive: true })
    writeFileSync(join(web, 'index.html'), '<title>the page</title>')
    writeFileSync(join(web, 'assets/main-1a2b.js'), 'run()')
    writeFileSync(join(web, 'assets/font-3c.woff2'), 'f')
    writeFileSync(join(dir, 'secret.txt'), 'not for you')
    url = await listen(server)
  })
  afterAll(() => {
    server.close()
    rmSync(dir, { recursive: true, force: true })
  })

  test('what is named by its content is kept for ever, the page itself is asked for each time', async () => {
    const file = await fetch(`${url}/assets/main-1a2b.js`)
    expect([file.headers.get('cache-control'), file.headers.get('content-type'), await file.text()]).toEqual([
      'max-age=31536000,immutable',
      expect.stringContaining('text/javascript'),
      'run()',
    ])
    expect((await fetch(`${url}/assets/font-3c.woff2`)).headers.get('content-type')).toBe('font/woff2')
    for (const path of ['/', '/items~open/item~EMB-1', '/assets/gone.js', '/assets', '/index.html']) {
      const page = await fetch(`${url}${path}`)
      expect([path, page.status, page.headers.get('cache-control'), await page.text()]).toEqual([
        path,
        200,
        'no-cache',
        '<title>the page</title>',
      ])
    }
  })

  test.each([
    '/assets/..%2f..%2fsecret.txt',
    '/assets/%2e%2e/%2e%2e/secret.txt',
    '/..%2fsecret.txt',
    '/assets/..%5c..%5csecret.txt',
    '/%ZZ',
    '/assets/%00',
  ])('no path leads out of them: %s', async (path) => {
    const answer = await fetch(`${url}${path}`)
    expect(await answer.text()).toBe('<title>the page</title>')
  })

  test.each(['/api/v1/items', '/otlp/v1/logs', '/receive/mail', '/healthz', '/api'])('%s is not a page', async (path) => {
    expect((await fetch(`${url}${path}`)).status).toBe(418)
  })

  test('nothing is answered to anything but reading', async () => {
    expect((await fetch(`${url}/`, { method: 'POST' })).status).toBe(418)
    const head = await fetch(`${url}/`, { method: 'HEAD' })
    expect([head.status, await head.text()]).toEqual([200, ''])
  })
})
