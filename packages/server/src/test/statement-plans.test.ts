import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { preparedTexts } from '#platform/db/statements'
import type { Db } from '#platform/db/open'
import { mailDigests } from '#subjects/inbox/mail'
import { connectRepository, exceptionRequest, startApp, TestRepository, until, type App } from './app-harness.js'

/** Tables that may be scanned, each with its reason. Everything else must be reached by an index. */
const SMALL_TABLES = new Map([
  ['project', 'a handful of rows'],
  ['environment', 'a handful of rows'],
  ['e', 'environment: a handful of rows'],
  ['service', 'tens of rows'],
  ['scrub_rule', 'tens of rows'],
  ['s', 'service: tens of rows'],
  ['repository', 'tens of rows'],
  ['r', 'repository or service joined in full, or requirements listed as a whole document'],
  ['component', 'tens of rows'],
  ['person', 'hundreds of rows, listed as a whole'],
  ['p', 'person: hundreds of rows, listed as a whole'],
  ['intake_rule', 'tens of rows'],
  ['key_prefix', 'tens of rows'],
  ['requirement', 'thousands of rows, listed as a whole document'],
  ['b', 'build: newest of each branch, for the index of places'],
  ['n', 'build: newest of each branch, for the index of places'],
  ['f', 'fault: those that were merged, told to the intake as it starts'],
  ['fault', 'the highest number'],
  ['credential', 'whether any account exists: one row is read'],
  ['session', 'expired sessions are removed when one signs in'],
  ['deployment', 'tens of rows per service'],
  ['d', 'deployment: tens of rows per service'],
  ['pull_request', 'open ones counted and listed'],
  ['git_commit', 'loaded whole, once, into the graph of its repository'],
  ['release', 'tens of rows per service'],
  ['item', 'distinct milestones'],
  ['g', 'groups of faults: thousands, in one of the orders of their list'],
  ['source_map', 'one row for each built file of a release'],
  ['group_alias', 'merges of faults: tens of rows'],
  ['h', 'what few words match, ranked'],
  ['i', 'one of the orders of the list, by its index'],
  ['activity_minute', 'last heard, by service'],
])

let app: App
let repo: TestRepository
beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  repo.commit('src/probe.js', 'one\n', 'Begin')
  connectRepository(app, 'kiln', repo.dir)
})
afterAll(async () => {
  await app.stop()
  repo.remove()
})

test('no statement scans a table that can grow', async () => {
  const ines = await app.as('ines')
  const post = (path: string, body: object) => ines(`/api/v1${path}`, { method: 'POST', body })
  const key = (await post('/items', { title: 'Relay stays closed', requirement: 'SAF-3', component: 'Kiln control' })).body.key
  const other = (await post('/items', { title: 'Relay chatters' })).body.key
  repo.git('checkout', '--quiet', '-b', `fix/${key}-x`)
  const sha = repo.commit('src/probe.js', 'two\n', `Mend\n\nFixes: ${key}\nTime: 5m`)
  repo.git('tag', 'v1.0.0')
  await app.server.sync.request('kiln', 'test')
  const intake = { authorization: `Bearer ${app.token('intake')}` }
  await app.call('/otlp/v1/logs', { method: 'POST', headers: intake, body: exceptionRequest({ atMs: app.clock.nowMs, count: 6 }) })
  await app.call(`/receive/reports/junit?repository=kiln&commit=${sha}&build=1`, {
    method: 'POST',
    headers: intake,
    raw: `<testsuites><testsuite name="a"><testcase name="SAF-3 ${key}"/></testsuite></testsuites>`,
  })
  await until('the fault is there', async () => (await ines('/api/v1/faults')).body.rows.length === 1)
  await app.call('/otlp/v1/logs', {
    method: 'POST',
    headers: intake,
    body: exceptionRequest({ atMs: app.clock.nowMs, count: 2, message: 'other', place: 'other (/srv/kiln/src/other.js:5:31)' }),
  })
  await until('the other is there', async () => (await ines('/api/v1/faults')).body.rows.length === 2)
  await post('/faults/F-2/merge', { into: 'F-1' })
  expect((await ines('/api/v1/faults/F-2/merge', { method: 'DELETE' })).status).toBe(200)
  const { occurrenceId } = (await ines('/api/v1/faults/F-2/occurrences')).body.rows[0]
  expect((await ines(`/api/v1/faults/F-2/occurrences/${occurrenceId}`)).status).toBe(200)
  expect((await post(`/faults/F-2/occurrences/${occurrenceId}/belongs`, { to: null, includesEarlier: false })).status).toBe(200)
  expect((await ines('/api/v1/services/kiln', { method: 'PATCH', body: { foreignCode: ['lib'], includesEarlier: true } })).status).toBe(200)
  await post('/scrub-rules', { kind: 'text', pattern: 'secret', name: 'x' })
  await post('/scrub-rules/try', { text: 'secret' })
  await post(`/items/${key}/accept`, { severity: 2, ownerId: 'rafe' })
  await post(`/items/${key}/links`, { kind: 'blocks', to: { kind: 'item', id: other } })
  await post(`/items/${key}/comments`, { text: `As in ${other}\n\nTime: 5m` })
  await post(`/items/${other}/reject`, { disposition: 'duplicate', sameAs: key })
  await post(`/items/${other}/split`, {})
  const asked = (await (await app.as('rafe'))('/api/v1/items', { method: 'POST', body: { title: 'Smoke' } })).body.key
  await post(`/items/${asked}/ask`, { words: 'Which?' })
  await post('/undo', {})
  await post('/me/hand', { key })
  await post(`/me/hand/${key}/park`, {})
  await ines('/api/v1/projects/EMB/routing', {
    method: 'PUT',
    body: { ruleId: 'r', name: 'r', conditions: { words: ['x'] }, sets: { severity: 2 } },
  })
  await ines(`/api/v1/items/${key}/note`, { method: 'PUT', body: { text: 'mine' } })
  await post('/inbox/read', { keys: [key] })
  await post('/inbox/snooze', { key: other, untilMs: app.clock.nowMs + 1000 })
  await mailDigests(app.ctx)
  for (const path of [
    '/inbox',
    '/inbox?view=all',
    '/inbox?view=later',
    '/me/hand',
    '/me/notice-choices',
    `/items/${key}/note`,
    '/triage?source=fault',
    '/projects/EMB/setup',
    '/projects/EMB/routing',
    '/projects/EMB/triage-weeks',
    '/me',
    '/places',
    '/desk',
    '/triage',
    `/items?filter=${encodeURIComponent('open defect severity<=2 owner=rafe requirement=SAF-3 label=x updated<7d "relay" or drift mine')}`,
    '/items?sort=newest',
    '/items?sort=updated',
    '/items?sort=due&groupBy=owner',
    '/items?sort=best&filter=relay',
    '/items-counts?filter=open+relay+due%3C2030-01-01&groupBy=stage',
    `/items-found?filter=relay&keys=${key}`,
    '/items-outline?filter=open',
    `/items/${key}`,
    `/items/${key}/history`,
    `/items/${key}/comments`,
    `/items/${key}/time`,
    `/items/${key}/proposals`,
    '/faults/F-1',
    '/faults?sort=times&service=kiln&environment=production&release=1.0.0&item=none&q=x',
    '/faults?sort=people',
    '/faults/F-1/alike',
    '/services',
    '/scrub-rules',
    '/faults/F-1/frames',
    '/faults/F-1/occurrences',
    '/repositories',
    '/commits',
    `/commits/${sha}`,
    '/pull-requests',
    '/builds',
    '/builds/kiln/1',
    '/releases',
    '/releases/kiln@1.0.0',
    '/requirements',
    '/requirements/SAF-3',
    `/search?q=relay`,
    `/search?q=${sha.slice(0, 7)}`,
    `/threads/${key}`,
    '/threads/SAF-3',
    '/threads/release:kiln@1.0.0',
  ]) {
    const answer = await ines(`/api/v1${path}`)
    expect([path, answer.status]).toEqual([path, 200])
  }
  const scans = [...scansOf(app.ctx.db), ...scansOf(app.ctx.volume)]
  expect(preparedTexts(app.ctx.db).length).toBeGreaterThan(80)
  expect(scans).toEqual([])
  expect(weakSearches(app.ctx.db, preparedTexts(app.ctx.db))).toEqual([])
})

test('a row looked for again and again by a flag that most rows have is noticed', () => {
  const slow = `SELECT count(*) FROM fault f
    WHERE EXISTS (SELECT 1 FROM item i INDEXED BY item_open WHERE i.fault = 'F-' || f.number AND i.is_open = 1)`
  expect(weakSearches(app.ctx.db, [slow])).toHaveLength(1)
})

/** Plans of statements, a line each. */
function planOf(db: Db, text: string): string[] {
  return db
    .prepare<unknown[], { detail: string }>(`EXPLAIN QUERY PLAN ${text.replace(/@\w+/g, 'NULL')}`)
    .all()
    .map(({ detail }) => detail)
}

/** Searches that run once for each row of another table, by an index of which they use a flag alone: as slow as a scan. */
function weakSearches(db: Db, texts: readonly string[]): string[] {
  return texts
    .filter((text) => /^\s*(?:SELECT|UPDATE|DELETE|INSERT)/i.test(text) && /\bEXISTS\b/i.test(text))
    .flatMap((text) =>
      planOf(db, text).flatMap((detail) => (/^SEARCH \w+ EXISTS .*\((?:is|has)_\w+=\?\)$/.test(detail) ? [`${detail} in ${text}`] : [])),
    )
}

/** `table: statement` for each scan of a table that is not listed. */
function scansOf(db: Db): string[] {
  return preparedTexts(db)
    .filter((text) => /^\s*(?:SELECT|UPDATE|DELETE|INSERT)/i.test(text))
    .flatMap((text) =>
      planOf(db, text).flatMap((detail) => {
        const table = /^SCAN (\w+)(?! VIRTUAL TABLE)(?!.*USING (?:COVERING )?INDEX)/.exec(detail)?.[1]
        return table && !SMALL_TABLES.has(table) && !/json_each|VIRTUAL TABLE|CONSTANT|SUBQUERY/.test(detail)
          ? [`${detail} in ${text}`]
          : []
      }),
    )
}
