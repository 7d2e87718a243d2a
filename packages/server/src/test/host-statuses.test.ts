import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { ChangeStatus } from '@dystracer/core/code/change-status'
import { replaced } from '#platform/context'
import { codeHostSlot } from '#subjects/code/code-host.slot'
import { makeHttpCodeHost } from '#subjects/code/http-code-host'
import { seePullRequest } from '#subjects/reviews/index'
import { connectRepository, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

/** What a code host is told to show of its pull requests, over its real interface. */
let app: App
let repo: TestRepository
let ines: Ask
let rafe: Ask
let adapter: Server
let headSha: string
/** What the host answers to a status; 200 shows it. */
let answers = 200
const asked: string[] = []
const shown = new Map<number, ChangeStatus>()

beforeAll(async () => {
  adapter = createServer((request, response) => {
    let body = ''
    request.on('data', (chunk: Buffer) => {
      body += chunk.toString()
    })
    request.on('end', () => {
      asked.push(`${request.url} ${answers}`)
      const status = JSON.parse(body) as ChangeStatus
      if (answers === 200) shown.set(status.number, status)
      response.writeHead(answers).end(answers === 200 ? '{}' : 'not now')
    })
  })
  await new Promise<void>((resolve) => adapter.listen(0, '127.0.0.1', resolve))
  const baseUrl = `http://127.0.0.1:${(adapter.address() as AddressInfo).port}`
  app = await startApp({ replacements: [replaced(codeHostSlot, makeHttpCodeHost({ baseUrl, token: null }, 'file:'))] })
  ;[ines, rafe] = await Promise.all([app.asks('ines'), app.asks('rafe')])
  for (const title of ['Relay stays closed', 'A way in'])
    await rafe('/items', { method: 'POST', body: { title, ...(title === 'A way in' && { isConfidential: true }) } })
  repo = new TestRepository()
  repo.commit('src/probe.js', 'one\n', 'Begin')
  repo.git('checkout', '--quiet', '-b', 'relay')
  headSha = repo.commit('src/probe.js', 'two\n', 'Open the relay\n\nRefs: EMB-1, EMB-2')
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
})
afterAll(async () => {
  await app.stop()
  adapter.close()
  repo.remove()
})

const see = (number: number, version: number, state: 'open' | 'merged' = 'open') =>
  seePullRequest(
    app.ctx,
    {
      repository: 'kiln',
      number,
      title: 'Open the relay',
      body: '',
      state,
      author: 'Ines Okafor',
      head: 'relay',
      base: 'main',
      headSha,
      mergeSha: null,
      createdAtMs: 1,
      updatedAtMs: version,
      version,
    },
    'test',
  )
const build = (number: number) =>
  app.ctx.journal.write((writer) => {
    const common = { actor: 'source:build-service', subjects: [`build:kiln/${number}`] }
    const place = { repository: 'kiln', number, sha: headSha, branch: 'relay' }
    writer.append({ ...common, kind: 'build-started', body: place })
    writer.append({ ...common, kind: 'build-finished', body: { ...place, state: 'passed', startedAtMs: number } })
  })
const atHost = async (number: number) => (await ines(`/pull-requests/kiln/${number}/review`)).body.atHost

describe('a pull request at its code host', () => {
  test('shows what it waits for, with a way back to it and to what it is for; what is confidential is not named', async () => {
    see(7, 1)
    await until('it is shown', () => shown.has(7))
    expect(shown.get(7)).toMatchObject({ state: 'waiting', sha: headSha, summary: 'No build of its newest commit has passed yet.' })
    expect(shown.get(7)?.url).toMatch(/\/code\/pull-request~kiln,7$/)
    expect(shown.get(7)?.items).toEqual([{ key: 'EMB-1', url: expect.stringMatching(/\/items\/item~EMB-1$/) }])
    expect(await atHost(7)).toMatchObject({ summary: 'No build of its newest commit has passed yet.', trouble: null })
  })

  test('is told anew when a gate opens, and not when nothing changed', async () => {
    build(3)
    await until('it is ready', () => shown.get(7)?.state === 'ready')
    const before = asked.length
    await rafe('/items/EMB-1', { method: 'PATCH', body: { title: 'Relay stays closed at night' } })
    see(8, 1)
    await until('the other one is shown', () => shown.has(8))
    expect(asked).toHaveLength(before + 1)
  })

  test('reads as it did where the host is away, says so here, and is told once it is back', async () => {
    answers = 503
    const set = await ines('/repositories/kiln/gates', { method: 'PUT', body: { agreements: 1 } })
    expect(set.status).toBe(200)
    await until('the trouble is known', async () => (await atHost(7)).trouble !== null)
    expect(await atHost(7)).toMatchObject({ summary: 'Everything holds: it may be merged', trouble: '/api/statuses answered 503: not now' })
    answers = 200
    see(8, 2)
    await until('it is told', () => shown.get(7)?.state === 'waiting')
    expect(shown.get(7)?.summary).toBe('0 of 1 person who wrote none of it agree')
    expect((await atHost(7)).trouble).toBeNull()
  })

  test('says that it is over when it is, and nothing after that', async () => {
    see(7, 2, 'merged')
    await until('it is over', () => shown.get(7)?.state === 'over')
    expect(shown.get(7)?.summary).toBe('It is merged')
    const before = asked.length
    see(8, 3, 'merged')
    await until('the other is over', () => shown.get(8)?.state === 'over')
    expect(asked).toHaveLength(before + 1)
  })

  test('is left alone by a host that has no place for statuses', async () => {
    answers = 404
    see(9, 1)
    await until('the host was asked', () => asked.at(-1)?.endsWith('404') === true)
    const before = asked.length
    answers = 200
    see(9, 2)
    await new Promise((resolve) => setTimeout(resolve, 1500))
    expect(asked).toHaveLength(before)
    expect(await atHost(9)).toBeNull()
  })
})
