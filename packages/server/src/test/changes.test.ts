import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { replaced } from '#platform/context'
import { OutsideError } from '#platform/outside-error'
import type { CodeHost } from '#subjects/code/code-host'
import { codeHostSlot } from '#subjects/code/code-host.slot'
import { verifyTables } from '#verify-tables'
import { connectRepository, startApp, TestRepository, type App, type Ask } from './app-harness.js'

/** What happens to a change after it was pushed: asked for, looked at, built, merged; and what people say of an item themselves. */
let app: App
let repo: TestRepository
let ines: Ask
let rafe: Ask
let wren: Ask
let headSha: string
const told: string[] = []
let isHostDown = false
const host: CodeHost = {
  serves: () => true,
  createBranch: async ({ branch }) => void told.push(`branch ${branch}`),
  openPullRequest: async ({ head, by }) => {
    if (isHostDown) throw new OutsideError('the code host does not answer')
    told.push(`open ${head} by ${by}`)
    return { number: 7 }
  },
  mergePullRequest: async ({ number, by }) => {
    if (isHostDown) throw new OutsideError('the code host does not answer')
    told.push(`merge ${number} by ${by}`)
  },
  showStatus: async () => {},
  listPullRequests: async () => [],
}
const post = (ask: Ask, path: string, body: object = {}) => ask(path, { method: 'POST', body })
const send = (ask: Ask, method: string, path: string) => ask(path, { method })

beforeAll(async () => {
  app = await startApp({ replacements: [replaced(codeHostSlot, host)] })
  ;[ines, rafe, wren] = await Promise.all([app.asks('ines'), app.asks('rafe'), app.asks('wren')])
  repo = new TestRepository()
  repo.commit('src/probe.js', 'one\n', 'Begin')
  repo.git('checkout', '--quiet', '-b', 'fix/EMB-1-relay')
  headSha = repo.commit('src/probe.js', 'two\n', 'Open the relay\n\nFixes: EMB-1')
  repo.commit('big.txt', `${'x'.repeat(80)}\n`.repeat(20_000), 'A large file')
  repo.git('checkout', '--quiet', 'main')
  await post(rafe, '/items', { title: 'Relay stays closed' })
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

function seePullRequest(version: number, state: 'open' | 'merged' | 'closed' = 'open'): void {
  app.ctx.journal.write((writer) => {
    writer.append({
      kind: 'pull-request-seen',
      actor: 'source:code-host',
      subjects: ['pull-request:kiln/7'],
      body: {
        repository: 'kiln',
        number: 7,
        title: 'Open the relay (EMB-1)',
        body: '',
        state,
        author: 'Ines Okafor',
        head: 'fix/EMB-1-relay',
        base: 'main',
        headSha,
        mergeSha: null,
        createdAtMs: 1,
        updatedAtMs: version,
        version,
      },
    })
  })
}
const build = (number: number, outcome: 'passed' | 'broke') =>
  app.ctx.journal.write((writer) => {
    const common = { actor: 'source:build-service', subjects: [`build:kiln/${number}`] }
    const place = { repository: 'kiln', number, sha: headSha, branch: 'fix/EMB-1-relay' }
    writer.append({ ...common, kind: 'build-started', body: place })
    writer.append({ ...common, kind: 'build-finished', body: { ...place, state: outcome, startedAtMs: number } })
    writer.touch(['EMB-1'])
  })

describe('a pull request', () => {
  test('is asked of the code host in the name of whoever asks; a reader may not', async () => {
    expect((await post(wren, '/pull-requests', { repository: 'kiln', source: 'fix/EMB-1-relay' })).status).toBe(403)
    expect((await post(rafe, '/pull-requests', { repository: 'kiln', source: 'fix/EMB-1-relay' })).body).toEqual({ number: 7 })
    expect(told).toEqual(['open fix/EMB-1-relay by rafe'])
  })

  test('cannot be merged before a build of its newest commit has passed, and says which is missing', async () => {
    seePullRequest(1)
    const none = await post(rafe, '/pull-requests/kiln/7/merge')
    expect([none.status, none.body.code, none.body.detail]).toEqual([409, 'gate-closed', 'No build of its newest commit has passed yet.'])
    build(3, 'broke')
    expect((await post(rafe, '/pull-requests/kiln/7/merge')).body.detail).toBe('Build 3 broke; mend it and push again.')
    expect(told.filter((line) => line.startsWith('merge'))).toEqual([])
  })

  test('is merged by the host once its gate is open; a host that does not answer changes nothing', async () => {
    build(4, 'passed')
    isHostDown = true
    const down = await post(rafe, '/pull-requests/kiln/7/merge')
    expect([down.status, down.body.code]).toEqual([502, 'outside-unreachable'])
    isHostDown = false
    expect((await post(wren, '/pull-requests/kiln/7/merge')).status).toBe(403)
    expect((await post(rafe, '/pull-requests/kiln/7/merge')).status).toBe(200)
    expect(told.at(-1)).toBe('merge 7 by rafe')
  })

  test('shows the difference to what it is to go into, and that of each commit; a long one says that it is cut', async () => {
    const whole = (await rafe('/pull-requests/kiln/7/diff')).body
    expect(whole.diff).toContain('-one')
    expect(whole.diff).toContain('+two')
    expect(whole.isCut).toBe(false)
    expect((await rafe(`/commits/kiln/${headSha}/diff`)).body.diff).toContain('+two')
    const large = repo.git('rev-parse', 'fix/EMB-1-relay')
    const cut = (await rafe(`/commits/kiln/${large}/diff`)).body
    expect(cut.isCut).toBe(true)
    expect(cut.diff.length).toBeLessThan(1_100_000)
    expect((await rafe(`/commits/kiln/${'0'.repeat(40)}/diff`)).status).toBe(404)
  })
})

describe('what people say of an item', () => {
  const stageOf = async (key: string) => (await rafe(`/items/${key}`)).body
  const fresh = async () => (await post(rafe, '/items', { title: 'Lid rattles' })).body.key as string
  const accepted = async () => {
    const key = await fresh()
    await post(ines, `/items/${key}/accept`, { severity: 3, ownerId: 'rafe', component: null, requirement: null })
    return key
  }

  test('a claim stands as claimed, does not move the stage without evidence, and is told as a drift', async () => {
    const key = await accepted()
    expect((await post(wren, `/items/${key}/claims`, { stage: 'merged', words: 'It is in' })).status).toBe(403)
    expect((await post(rafe, `/items/${key}/claims`, { stage: 'merged', words: '' })).body.fields).toEqual({ words: 'Say why' })
    await post(rafe, `/items/${key}/claims`, { stage: 'merged', words: 'Changed on the machine itself' })
    const { stage, ladder, hasDrift } = await stageOf(key)
    expect([stage, ladder.treads[4].state, hasDrift]).toEqual(['accepted', 'claimed', true])
    expect(ladder.drift).toContainEqual({ code: 'claim', stage: 'merged' })
  })

  test('one who looked verifies, with words; reopening begins anew and says why', async () => {
    const key = await accepted()
    await post(ines, `/items/${key}/verify`, { words: 'Listened for an hour' })
    expect((await stageOf(key)).stage).toBe('verified')
    const reopened = await post(rafe, `/items/${key}/reopen`, { words: 'Rattles again' })
    expect(reopened.status).toBe(200)
    expect((await stageOf(key)).stage).not.toBe('verified')
    const history = (await rafe(`/items/${key}/history`)).body.rows
    expect(JSON.stringify(history)).toContain('Rattles again')
  })

  test('a rejection ends an item, and it can be opened again', async () => {
    const key = await fresh()
    await post(ines, `/items/${key}/reject`, { disposition: 'will-not-fix', words: 'It is meant to rattle' })
    expect((await stageOf(key)).disposition).toBe('will-not-fix')
    await post(ines, `/items/${key}/reopen`, { words: 'It is not' })
    expect((await stageOf(key)).disposition).toBeNull()
  })

  test('work begins with a branch at the host, named after the item', async () => {
    const key = await accepted()
    const started = await post(rafe, `/items/${key}/start`, { repository: 'kiln' })
    expect(started.status).toBe(200)
    expect(started.body.branch).toContain(key)
    expect(told.at(-1)).toBe(`branch ${started.body.branch}`)
    expect(started.body.commands.join('\n')).toContain(started.body.branch)
  })

  test('the history of an item is read page by page to its beginning', async () => {
    const key = await fresh()
    for (let turn = 0; turn < 9; turn++) await rafe(`/items/${key}`, { method: 'PATCH', body: { title: `Lid rattles ${turn}` } })
    const seen: number[] = []
    let cursor: string | null = null
    do {
      const page: { rows: { seq: number }[]; nextCursor: string | null } = (
        await rafe(`/items/${key}/history?limit=4${cursor ? `&cursor=${encodeURIComponent(cursor)}` : ''}`)
      ).body
      seen.push(...page.rows.map((row) => row.seq))
      cursor = page.nextCursor
    } while (cursor !== null)
    const whole = (await rafe(`/items/${key}/history?limit=100`)).body.rows.map((row: { seq: number }) => row.seq)
    expect(whole.length).toBeGreaterThan(9)
    expect(seen).toEqual(whole)
  })
})

test('a thing that is not there is not there for any of them', async () => {
  for (const [method, path] of [
    ['POST', '/pull-requests/kiln/99/merge'],
    ['GET', '/pull-requests/kiln/99'],
    ['GET', '/pull-requests/nowhere/1/diff'],
  ] as const)
    expect((await send(rafe, method, path)).status).toBe(404)
})
