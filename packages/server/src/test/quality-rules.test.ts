import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import type { QualityRule } from '@dystracer/core/quality/quality-rule'
import { verifyTables } from '#verify-tables'
import { connectRepository, startApp, TestRepository, type App, type Ask } from './app-harness.js'

let app: App
let repo: TestRepository
let ines: Ask
let rafe: Ask
let token: string

beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
  repo.commit('src/kiln.c', 'int heat;\n', 'Begin')
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  token = app.token('evidence')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

const RULES = '/projects/EMB/quality-rules'
const aRule = (given: Partial<QualityRule> = {}): Partial<QualityRule> => ({
  ruleId: 'own',
  name: 'Own',
  about: 'test',
  where: '',
  ...given,
})
const setRules = (...rules: Partial<QualityRule>[]) => ines(RULES, { method: 'PUT', body: { rules } })
const send = async (format: string, build: number, body: string, branch = 'main') => {
  const sha = repo.commit('src/kiln.c', `int heat = ${build};\n`, `Build ${build}`)
  await app.server.sync.request('kiln', 'test')
  const query = new URLSearchParams({ repository: 'kiln', commit: sha, build: String(build), branch })
  const answer = await app.call(`/receive/reports/${format}?${query}`, {
    method: 'POST',
    raw: body,
    headers: { authorization: `Bearer ${token}` },
  })
  expect(answer.status).toBe(200)
  return answer.body
}
const junit = (...failing: string[]) =>
  [
    '<testsuite name="relay">',
    ...failing.map((name) => `<testcase name="${name}"><failure message="was 4"/></testcase>`),
    '<testcase name="passes"/></testsuite>',
  ].join('')
const lcov = (ran: number, of: number) =>
  `TN:\nSF:src/kiln.c\n${Array.from({ length: of }, (_, at) => `DA:${at + 1},${at < ran ? 1 : 0}`).join('\n')}\nend_of_record\n`
const sarif = (...rules: [string, string][]) =>
  JSON.stringify({
    version: '2.1.0',
    runs: [
      {
        tool: { driver: { name: 'scan' } },
        results: rules.map(([ruleId, level]) => ({
          ruleId,
          level,
          message: { text: `Found ${ruleId}.` },
          locations: [{ physicalLocation: { artifactLocation: { uri: 'src/kiln.c' }, region: { startLine: 1 } } }],
        })),
      },
    ],
  })
const items = async (words: string) =>
  (await ines(`/items?filter=${encodeURIComponent(words)}`)).body.rows as {
    key: string
    title: string
    severity: number | null
    owner: string | null
  }[]

describe('until a project says otherwise', () => {
  test('a test that fails twice on the main line is logged once, and so is a new error or warning', async () => {
    expect((await ines(RULES)).body).toMatchObject({
      isDefault: true,
      rows: [
        { ruleId: 'failing-tests', about: 'test', where: 'main builds>=2', fired: 0 },
        { ruleId: 'new-findings', about: 'finding' },
      ],
    })
    await send('junit', 1, junit('holds the heat'))
    expect(await items('"holds the heat"')).toEqual([])
    await send('junit', 2, junit('holds the heat'))
    await send('junit', 3, junit('holds the heat'))
    expect(await items('"holds the heat"')).toMatchObject([{ title: 'holds the heat fails' }])
    expect(await send('sarif', 4, sarif(['E1', 'error'], ['N1', 'note']))).toMatchObject({ results: 2, logged: 1 })
    expect((await ines(RULES)).body.rows).toMatchObject([
      { fired: 1, week: 1, waiting: 1 },
      { fired: 1, waiting: 1 },
    ])
  })
})

describe('rules of a project', () => {
  test('are set by whoever leads, and refused with what is wrong by its field', async () => {
    expect((await rafe(RULES, { method: 'PUT', body: { rules: [] } })).status).toBe(403)
    expect((await rafe(`${RULES}/trial`, { method: 'POST', body: { rule: aRule() } })).status).toBe(403)
    expect((await rafe(RULES)).status).toBe(200)
    const wrong = await setRules(aRule({ where: 'severity=1' }))
    expect(wrong).toMatchObject({ status: 422, body: { fields: { 'rules.0.where': expect.stringContaining('“severity”') } } })
    const twice = await setRules(aRule(), aRule({ type: 'wish', ownerId: 'nobody' }))
    expect(twice.body.fields).toEqual({
      'rules.1.ruleId': 'Another rule is called so',
      'rules.1.type': 'EMB has no type wish',
      'rules.1.ownerId': 'There is no such person',
    })
    expect((await setRules(aRule({ component: 'Cellar' }))).body.fields).toEqual({ 'rules.0.component': 'EMB has no component Cellar' })
  })

  test('log as they say: type, severity, owner, labels, taken at once; whom they name is told', async () => {
    const deed = { severity: 2, ownerId: 'rafe', labels: ['night'], component: 'Doors', isAccepted: true, tellIds: ['ines'] } as const
    app.ctx.journal.write((writer) => {
      const body = { project: 'EMB', name: 'Doors', keeperId: 'rafe', repository: 'kiln', pathPrefix: 'doors' }
      writer.append({ kind: 'component-added', actor: 'system', subjects: [], body })
    })
    const set = await setRules(
      aRule({ ruleId: 'quiet', where: 'test=flaky*', act: 'nothing' }),
      aRule({ ruleId: 'topic', where: 'not main builds=1', ...deed, labels: [...deed.labels], tellIds: [...deed.tellIds] }),
    )
    expect(set.body).toMatchObject({ isDefault: false, rows: [{ ruleId: 'quiet' }, { ruleId: 'topic' }] })
    await send('junit', 10, junit('door stays shut', 'flaky lid'), 'topic')
    const [item] = await items('"door stays shut"')
    expect(item).toMatchObject({ severity: 2 })
    const { body } = await ines(`/items/${item?.key}`)
    expect(body).toMatchObject({ ownerId: 'rafe', labels: ['night'], component: 'Doors', stage: 'accepted' })
    expect(await items('"flaky lid"')).toEqual([])
    const inbox = await ines('/inbox')
    expect(JSON.stringify(inbox.body)).toContain('door stays shut fails (rule “Own”)')
    // On the main line nothing is said any more.
    await send('junit', 11, junit('holds nothing'))
    await send('junit', 12, junit('holds nothing'))
    expect(await items('"holds nothing"')).toEqual([])
  })

  test('log no more than their budget a day; the rest is gathered in one item of the day, each once', async () => {
    await setRules(aRule({ where: 'main', perDay: 2 }))
    const names = ['a', 'b', 'c', 'd'].map((letter) => `zone ${letter} heats`)
    await send('junit', 20, junit(...names))
    expect(
      (await items('zone heats fails'))
        .map(({ title }) => title)
        .filter((title) => title.startsWith('zone'))
        .sort(),
    ).toEqual(['zone a heats fails', 'zone b heats fails'])
    const [gathering] = await items('"further failing tests"')
    expect(gathering?.title).toBe('2 further failing tests of kiln')
    await send('junit', 21, junit(...names, 'zone e heats'))
    expect(await items('"further failing tests"')).toHaveLength(1)
    const { description } = (await ines(`/items/${gathering?.key}`)).body
    expect(description.match(/^\| zone . heats/gm)).toEqual(['| zone c heats', '| zone d heats', '| zone e heats'])
  })

  test('about coverage look at the build of the branch before it', async () => {
    await setRules(aRule({ about: 'coverage', where: 'main fell>=5' }))
    await send('lcov', 30, lcov(80, 100))
    await send('lcov', 31, lcov(78, 100))
    expect(await items('"of its lines"')).toEqual([])
    await send('lcov', 32, lcov(70, 100))
    const [item] = await items('"of its lines"')
    expect(item?.title).toBe('Tests of kiln run 70 % of its lines, 8 fewer than before')
    expect((await ines(`/items/${item?.key}`)).body.description).toContain('| src/kiln.c | 8 |')
  })

  test('are tried on what came, by the same code, beside those that hold; drafts do nothing', async () => {
    await setRules(aRule({ where: 'main builds>=2' }), aRule({ ruleId: 'draft', about: 'finding', isDraft: true }))
    await send('sarif', 40, sarif(['E9', 'error']))
    expect(await items('"Found E9"')).toEqual([])
    const trial = await ines(`${RULES}/trial`, { method: 'POST', body: { rule: aRule({ where: 'test=zone*' }), days: 90 } })
    expect(trial.body).toMatchObject({ fired: 5, standing: 0, isCut: false })
    expect(trial.body.rows.map((row: { what: string }) => row.what).sort()).toEqual(
      ['a', 'b', 'c', 'd', 'e'].map((letter) => `zone ${letter} heats fails`),
    )
    expect(trial.body.rows.find((row: { what: string }) => row.what === 'zone a heats fails')).toMatchObject({ judgement: 'waiting' })
    const findings = await ines(`${RULES}/trial`, { method: 'POST', body: { rule: aRule({ about: 'finding', where: 'rule=E9' }) } })
    expect(findings.body).toMatchObject({ fired: 1, rows: [{ what: 'Found E9', key: null }] })
    const fell = await ines(`${RULES}/trial`, { method: 'POST', body: { rule: aRule({ about: 'coverage', where: 'fell>0' }) } })
    expect(fell.body.fired).toBe(2)
  })
})
