import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { verifyTables } from '#verify-tables'
import { startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

/** Reviews over a bare repository: Ines writes (her name stands in every commit of the test's repository), Rafe and Teo look. */
const places = mkdtempSync(join(tmpdir(), 'dystracer-reviews-'))
const bare = join(places, 'lid.git')
const work = new TestRepository()
let app: App
let ines: Ask
let rafe: Ask
let teo: Ask
let wren: Ask
let count = 0
const git = (...args: string[]) => execFileSync('git', args, { cwd: bare, encoding: 'utf8' }).trim()
const lines = (...text: string[]) => `${text.join('\n')}\n`

beforeAll(async () => {
  execFileSync('git', ['init', '--quiet', '--bare', '--initial-branch=main', bare])
  app = await startApp({ config: { repositoriesDir: places } })
  ;[ines, rafe, teo, wren] = [await app.asks('ines'), await app.asks('rafe'), await app.asks('teo'), await app.asks('wren')]
  work.commit('lid.js', lines('a', 'b', 'c', 'd', 'e'), 'Begin')
  work.git('push', '--quiet', bare, 'main')
  await ines('/projects/EMB/repositories', { method: 'POST', body: { url: bare } })
  await until('it was read', async () => (await ines('/repositories')).body.rows[0]?.commits === 1)
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  rmSync(places, { recursive: true, force: true })
  work.remove()
})
beforeEach(async () => {
  app.clock.nowMs += 60_000
  await ines('/repositories/lid/gates', { method: 'PUT', body: { agreements: 0, needsSettled: false, needsItem: false } })
})

const sync = () => app.server.sync.request('lid', 'test')
async function push(branch: string): Promise<void> {
  work.git('push', '--quiet', '--force', bare, branch)
  await sync()
}
/** A pull request of a new branch from the newest main, with one commit. */
async function begin(
  file = 'lid.js',
  text = lines('a', 'b', 'C', 'd', 'e'),
  message = 'Close the lid',
): Promise<{ path: string; number: number; branch: string }> {
  const branch = `work-${++count}`
  work.git('fetch', '--quiet', bare, '+main:main', '--update-head-ok')
  work.git('checkout', '--quiet', '--force', '-B', branch, 'main')
  work.commit(file, text, message)
  await push(branch)
  const { number } = (await ines('/pull-requests', { method: 'POST', body: { repository: 'lid', source: branch } })).body
  return { path: `/pull-requests/lid/${number}`, number, branch }
}
const post = (ask: Ask, path: string, body: object) => ask(path, { method: 'POST', body })
const review = async (path: string) => (await ines(`${path}/review`)).body
const gates = async (path: string) =>
  Object.fromEntries((await review(path)).gates.map(({ code, isMet }: { code: string; isMet: boolean }) => [code, isMet]))

describe('a review', () => {
  test('is asked of somebody who wrote none of it, stands on their desk, and goes from there once given', async () => {
    const { path, number } = await begin()
    expect((await post(ines, `${path}/reviewers`, { personId: 'ines' })).body.fields.personId).toContain('wrote part of it')
    expect((await post(ines, `${path}/reviewers`, { personId: 'wren' })).body.fields.personId).toContain('no member')
    expect((await post(wren, `${path}/reviewers`, { personId: 'rafe' })).status).toBe(403)
    expect((await post(ines, `${path}/reviewers`, { personId: 'rafe' })).body.asked).toMatchObject([
      { personId: 'rafe', by: 'person:ines' },
    ])
    const waits = async (ask: Ask) =>
      (await ask('/desk')).body.waiting.filter(({ ref }: { ref: { id: string } }) => ref.id === `lid/${number}`)
    expect(await waits(rafe)).toMatchObject([{ why: 'review', detail: expect.stringContaining('you are asked') }])
    expect(await waits(teo)).toEqual([])
    const given = await post(rafe, `${path}/reviews`, { verdict: 'agreed', words: 'Good' })
    expect(given.body).toMatchObject({ asked: [], verdicts: [{ personId: 'rafe', verdict: 'agreed', words: 'Good', fell: null }] })
    expect(await waits(rafe)).toEqual([])
    expect((await post(ines, `${path}/reviews`, { verdict: 'agreed' })).body.detail).toContain('somebody else has to agree')
    expect(given.body.canAgree).toEqual(expect.arrayContaining(['rafe', 'teo']))
    expect(given.body.canAgree).not.toContain('ines')
  })

  test('of agreement holds through a rebase and falls when the change changes; an objection stands until it is taken back', async () => {
    const { path, branch } = await begin('vent.js', lines('one', 'two'), 'Open the vent')
    await post(rafe, `${path}/reviews`, { verdict: 'agreed' })
    await post(teo, `${path}/reviews`, { verdict: 'changes-asked', words: 'Two is too many' })
    work.git('checkout', '--quiet', 'main')
    work.commit(`other-${count}.js`, 'x\n', 'Go on elsewhere')
    work.git('push', '--quiet', bare, 'main')
    work.git('checkout', '--quiet', branch)
    work.git('rebase', '--quiet', 'main')
    await push(branch)
    const fell = async () =>
      Object.fromEntries((await review(path)).verdicts.map((one: { personId: string; fell: string | null }) => [one.personId, one.fell]))
    expect(await fell()).toEqual({ rafe: null, teo: null })
    work.commit('vent.js', lines('one'), 'One is enough')
    await push(branch)
    expect(await fell()).toEqual({ rafe: 'changed', teo: null })
    expect(await gates(path)).toEqual({ build: true, 'no-objection': false })
    expect((await post(ines, `${path}/merge`, {})).body).toMatchObject({
      code: 'gate-closed',
      detail: expect.stringContaining('asks for changes'),
    })
    app.clock.nowMs += 1000
    await post(teo, `${path}/reviews`, { verdict: 'agreed' })
    expect(await gates(path)).toEqual({ build: true })
  })

  test('remarks stand on lines, are answered and settled, and follow their lines through later changes', async () => {
    const { path, branch } = await begin('flue.js', lines('a', 'b', 'c', 'd'), 'Build the flue')
    const at = (line: number) => ({ path: 'flue.js', line, lastLine: line, side: 'new' })
    const given = await post(rafe, `${path}/reviews`, {
      verdict: 'remarked',
      remarks: [
        { text: 'Why b?', place: at(2) },
        { text: 'And d?', place: at(4) },
      ],
    })
    const [b, d] = given.body.remarks
    expect([b.now, d.now]).toEqual([
      { line: 2, lastLine: 2 },
      { line: 4, lastLine: 4 },
    ])
    await post(ines, `${path}/remarks`, { text: 'It is hot there', replyTo: b.remarkId })
    work.commit('flue.js', lines('new', 'a', 'B', 'c', 'd'), 'Change b')
    await push(branch)
    const later = (await review(path)).remarks
    expect(later.map(({ now }: { now: object | null }) => now)).toEqual([null, { line: 5, lastLine: 5 }])
    expect(later[0]).toMatchObject({ place: { line: 2 }, answers: [{ personId: 'ines', text: 'It is hot there' }] })
    await ines('/repositories/lid/gates', { method: 'PUT', body: { agreements: 0, needsSettled: true, needsItem: false } })
    expect(await gates(path)).toMatchObject({ settled: false })
    for (const { remarkId } of later) await post(ines, `${path}/remarks/${remarkId}/settling`, { isSettled: true })
    expect(await gates(path)).toMatchObject({ settled: true })
    expect((await review(path)).remarks[0]).toMatchObject({ isSettled: true, settledBy: 'person:ines' })
    const reacted = await post(rafe, `${path}/remarks/${later[0].remarkId}/reactions`, { reaction: 'thanks', isOn: true })
    expect(reacted.body.remarks[0].reactions).toEqual([{ reaction: 'thanks', personIds: ['rafe'] }])
    expect((await post(ines, `${path}/remarks`, { text: 'Nobody', replyTo: 'nobody' })).status).toBe(404)
    expect((await post(rafe, `${path}/reviews`, { verdict: 'remarked' })).body.fields.words).toContain('Write what you found')
  })

  test('is evidence of the stage “in review” of its items', async () => {
    const { key } = (await ines('/items', { method: 'POST', body: { title: 'Hinge squeaks' } })).body
    const { path } = await begin('hinge.js', 'oil\n', `Oil the hinge\n\nFixes: ${key}`)
    await post(rafe, `${path}/reviews`, { verdict: 'agreed' })
    const tread = (await ines(`/items/${key}`)).body.ladder.treads.find(({ stage }: { stage: string }) => stage === 'in-review')
    expect(tread.evidence).toContainEqual(expect.objectContaining({ code: 'review', by: 'person:rafe', facts: { verdict: 'agreed' } }))
  })

  test('a `Review-by:` trailer asks whom it names', async () => {
    work.git('checkout', '--quiet', '--force', '-B', 'asked', 'main')
    work.commit('asked.js', 'x\n', 'Look at this\n\nReview-by: rafe')
    await push('asked')
    const { rows } = (await ines('/pull-requests?repository=lid')).body
    const { number } = rows.find(({ head }: { head: string }) => head === 'asked')
    expect((await review(`/pull-requests/lid/${number}`)).asked).toMatchObject([{ personId: 'rafe', by: 'source:git' }])
  })
})

describe('a merge', () => {
  const needsOne = () => ines('/repositories/lid/gates', { method: 'PUT', body: { agreements: 1, needsSettled: false, needsItem: false } })

  test('happens by itself once every gate holds, in the name of whoever wanted it', async () => {
    await needsOne()
    const { path } = await begin('chime.js', 'ring\n', 'Ring the chime')
    expect((await post(ines, `${path}/merging`, { method: 'merge' })).body).toMatchObject({ wish: { by: 'person:ines', method: 'merge' } })
    expect((await ines(path)).body.state).toBe('open')
    await post(rafe, `${path}/reviews`, { verdict: 'agreed' })
    await until('it was merged', async () => (await ines(path)).body.state === 'merged')
    expect(git('log', '-1', '--format=%an', 'main')).toBe('Ines Okafor')
    expect((await review(path)).wish).toBeNull()
  })

  test('that cannot be made is wanted no more, and says why', async () => {
    await needsOne()
    const { path, branch } = await begin('same.js', 'left\n', 'Turn left')
    await post(ines, `${path}/merging`, { method: 'merge' })
    work.git('checkout', '--quiet', 'main')
    work.commit('same.js', 'right\n', 'Turn right')
    work.git('push', '--quiet', bare, 'main')
    work.git('checkout', '--quiet', branch)
    await sync()
    await post(rafe, `${path}/reviews`, { verdict: 'agreed' })
    await until('the wish ended', async () => (await review(path)).wish === null)
    expect((await ines(path)).body.state).toBe('open')
    expect((await review(path)).happened[0]).toMatchObject({
      kind: 'merge-wanted',
      facts: { method: null, why: expect.stringContaining('same.js') },
    })
  })

  test('is wanted no more when that is said', async () => {
    await needsOne()
    const { path } = await begin('quiet.js', 'x\n', 'Be quiet')
    await post(ines, `${path}/merging`, { method: 'squash' })
    expect((await post(ines, `${path}/merging`, { method: null })).body.wish).toBeNull()
    await post(rafe, `${path}/reviews`, { verdict: 'agreed' })
    expect((await ines(path)).body.state).toBe('open')
  })

  test('past gates that do not hold needs a right and a reason, and both are told', async () => {
    await needsOne()
    const { path } = await begin('night.js', 'x\n', 'Mend it at night')
    expect((await post(rafe, `${path}/merging`, { method: 'merge', passOver: 'It burns' })).status).toBe(403)
    await post(ines, `${path}/merging`, { method: 'merge', passOver: 'It burns' })
    expect((await ines(path)).body.state).toBe('merged')
    expect((await review(path)).happened).toContainEqual(
      expect.objectContaining({
        kind: 'gates-passed-over',
        by: 'person:ines',
        facts: expect.objectContaining({ gates: ['agreements'], words: 'It burns' }),
      }),
    )
  })

  test('as one commit keeps every trailer, takes the branch away, and counts as the fix', async () => {
    const { key } = (await ines('/items', { method: 'POST', body: { title: 'Latch rattles' } })).body
    const { path, branch } = await begin('latch.js', 'one\n', `Hold the latch\n\nFixes: ${key}`)
    work.commit('latch.js', lines('one', 'two'), 'Hold it twice\n\nVerifies: SAF-3')
    await push(branch)
    const before = git('rev-parse', 'main')
    await post(ines, `${path}/merging`, { method: 'squash' })
    expect(git('rev-list', '--parents', '-1', 'main').split(' ').slice(1)).toEqual([before])
    const message = git('log', '-1', '--format=%B', 'main')
    expect(message).toContain(`Fixes: ${key}`)
    expect(message).toContain('Verifies: SAF-3')
    expect(git('branch', '--list', branch)).toBe('')
    expect((await ines(path)).body).toMatchObject({ state: 'merged', mergeSha: git('rev-parse', 'main') })
    await until('the item stands on main', async () => (await ines(`/items/${key}`)).body.stage === 'merged')
  })
})

const put = (body: object) => ines('/repositories/lid/gates', { method: 'PUT', body })
const gate = async (path: string, code: string) =>
  (await review(path)).gates.find((one: { code: string }) => one.code === code) as
    | { isMet: boolean; words: string | null; personIds: string[] }
    | undefined
/** Commits a file on the main line and reads it. */
async function onMain(file: string, text: string): Promise<void> {
  work.git('fetch', '--quiet', bare, '+main:main', '--update-head-ok')
  work.git('checkout', '--quiet', '--force', 'main')
  work.commit(file, text, `Say ${file}`)
  await push('main')
}

describe('gates', () => {
  test('are asked for by branch: what names most of it holds', async () => {
    await put({ agreements: 1 })
    await put({ branches: 'release/*', agreements: 2, needsItem: true })
    expect(
      (await ines('/repositories/lid/gates')).body.rules.map(({ branches, agreements }: { branches: string; agreements: number }) => [
        branches,
        agreements,
      ]),
    ).toEqual([
      ['*', 1],
      ['release/*', 2],
    ])
    const { path } = await begin('by-branch.js', 'x\n', 'To main')
    expect(await gate(path, 'item')).toBeUndefined()
    work.git('branch', '--force', 'release/4.1', 'main')
    await push('release/4.1')
    await ines(path, { method: 'PATCH', body: { target: 'release/4.1' } })
    expect(await gate(path, 'item')).toMatchObject({ isMet: false })
    expect((await ines(path, { method: 'PATCH', body: { target: 'nowhere' } })).body.fields).toHaveProperty('target')
    await ines('/repositories/lid/gates?branches=release/*', { method: 'DELETE' })
    expect(await gate(path, 'item')).toBeUndefined()
    expect((await put({ hours: { days: [8], from: '8', until: '9', zone: 'Mars' } })).status).toBe(422)
  })

  test('hold for a draft until it is ready, and within hours of the day', async () => {
    const { path } = await begin('draft.js', 'x\n', 'Half of it')
    await ines(path, { method: 'PATCH', body: { isDraft: true } })
    expect(await gate(path, 'draft')).toMatchObject({ isMet: false })
    await post(ines, `${path}/merging`, { method: 'merge' })
    expect((await ines(path)).body).toMatchObject({ state: 'open', isDraft: true })
    const day = ((new Date(app.clock.nowMs).getUTCDay() + 6) % 7) + 1
    await put({ hours: { days: [(day % 7) + 1], from: '00:00', until: '23:59', zone: 'UTC' } })
    expect(await gate(path, 'hours')).toMatchObject({ isMet: false, words: expect.stringContaining('00:00 to 23:59 (UTC)') })
    await put({ hours: { days: [day], from: '00:00', until: '23:59', zone: 'UTC' } })
    await ines(path, { method: 'PATCH', body: { isDraft: false } })
    await until('it was merged', async () => (await ines(path)).body.state === 'merged')
  })

  test('ask those who look after the files, and see what the items say', async () => {
    await onMain('.dystracer/owners', '/owned/ teo\n')
    await put({ needsOwners: true, needsRequirement: true, needsTime: true })
    const { key } = (await ines('/items', { method: 'POST', body: { title: 'Seal leaks' } })).body
    const { path } = await begin('owned/seal.js', 'x\n', `Mend the seal\n\nFixes: ${key}`)
    expect(await gate(path, 'owners')).toMatchObject({ isMet: false, words: 'owned/seal.js', personIds: ['teo'] })
    await post(rafe, `${path}/reviews`, { verdict: 'agreed' })
    expect(await gate(path, 'owners')).toMatchObject({ isMet: false })
    await post(teo, `${path}/reviews`, { verdict: 'agreed' })
    expect(await gate(path, 'owners')).toMatchObject({ isMet: true })
    expect([await gate(path, 'requirement'), await gate(path, 'time')]).toMatchObject([{ isMet: false }, { isMet: false }])
    await ines(`/items/${key}/links`, { method: 'POST', body: { kind: 'implements', to: { kind: 'requirement', id: 'SAF-3' } } })
    await ines(`/items/${key}/time`, { method: 'POST', body: { minutes: 30 } })
    expect([await gate(path, 'requirement'), await gate(path, 'time')]).toMatchObject([{ isMet: true }, { isMet: true }])
  })

  test('kept by the repository itself are those of its main line; a file that cannot be read lets nothing through', async () => {
    const { path } = await begin('.dystracer/gates.yml', 'main: { agreements: 0 }\n', 'Ask for less')
    expect(await gate(path, 'agreements')).toBeUndefined()
    await onMain('.dystracer/gates.yml', 'main:\n  agreements: 2\n')
    expect(await gate(path, 'agreements')).toMatchObject({ isMet: false, needs: 2 })
    const refused = await put({ agreements: 0 })
    expect([refused.status, refused.body.detail]).toEqual([409, expect.stringContaining('.dystracer/gates.yml')])
    await onMain('.dystracer/gates.yml', 'main:\n  agreement: 2\n')
    expect(await gate(path, 'file')).toMatchObject({ isMet: false, words: expect.stringContaining('agreement') })
    work.git('rm', '--quiet', '.dystracer/gates.yml')
    work.git('commit', '--quiet', '-m', 'Keep them here no more')
    await push('main')
    expect((await ines('/repositories/lid/gates')).body.file).toBeNull()
  })
})

describe('a pull request', () => {
  test('is merged as its commits anew, each with its author', async () => {
    const { path, branch } = await begin('rebased.js', 'one\n', 'First part')
    work.commit('rebased.js', lines('one', 'two'), 'Second part')
    await push(branch)
    work.git('checkout', '--quiet', 'main')
    work.git('fetch', '--quiet', bare, '+main:main', '--update-head-ok')
    work.git('reset', '--quiet', '--hard', 'main')
    work.commit('elsewhere.js', 'x\n', 'Meanwhile')
    await push('main')
    const before = git('rev-parse', 'main')
    await post(ines, `${path}/merging`, { method: 'rebase' })
    expect(git('log', '--reverse', '--format=%s', `${before}..main`).split('\n')).toEqual(['First part', 'Second part'])
    expect(git('rev-list', '--merges', `${before}..main`)).toBe('')
    await until('it counts as merged', async () => (await ines(path)).body.state === 'merged')
  })

  test('is proposed with the text of the repository, its commits, what its items ask for, and what would conflict', async () => {
    work.git('fetch', '--quiet', bare, '+main:main', '--update-head-ok')
    work.git('checkout', '--quiet', '--force', 'main')
    work.commit('.dystracer/pull-request.md', 'Tried on a kiln?\n', 'A text for all')
    work.commit('.dystracer/pull-requests/hotfix.md', 'What burns?\n', 'A text for hotfixes')
    await push('main')
    await ines('/requirements/SAF-3/attributes', { method: 'PATCH', body: { attributes: { Acceptance: 'It **rings**' } } })
    const { key } = (await ines('/items', { method: 'POST', body: { title: 'Bell is mute', type: 'defect' } })).body
    await ines(`/items/${key}/links`, { method: 'POST', body: { kind: 'breaks', to: { kind: 'requirement', id: 'SAF-3' } } })
    work.git('checkout', '--quiet', '-b', 'bell')
    work.commit('bell.js', 'a\n', `Ring\n\nRefs: ${key}`)
    work.commit('bell.js', 'b\n', 'Ring louder')
    await push('bell')
    const propose = (query: string) => ines(`/repositories/lid/pull-request-proposal?source=bell${query}`)
    const { body } = await propose('')
    expect(body).toMatchObject({ target: 'main', title: `Bell is mute (${key})`, template: '.dystracer/pull-request.md', conflicts: [] })
    expect(body.commits).toHaveLength(2)
    for (const part of ['Tried on a kiln?', '- Ring louder', 'is met when', 'It **rings**', `Fixes: ${key}`])
      expect(body.text).toContain(part)
    expect((await propose('&template=.dystracer/pull-requests/hotfix.md')).body.text).toContain('What burns?')
    work.git('checkout', '--quiet', 'main')
    work.commit('bell.js', 'c\n', 'Another bell')
    await push('main')
    expect((await propose('')).body.conflicts).toEqual(['bell.js'])
    expect((await propose('&target=none')).body.fields).toHaveProperty('target')
  })
})

// The last of all: once a build was told of, every change waits for its own.
test('gates hold a change to the quality that a sentence asks for; a finding that is set aside does not count', async () => {
  expect((await put({ quality: '0 new dragons' })).body.fields.quality).toContain('no dragons')
  await put({ quality: '0 new bugs, 1 new smell, debt +20 min' })
  await onMain('.dystracer/owners', '/pump/ teo\n')
  const { path, branch } = await begin('pump/pump.js', 'x\n', 'Pump')
  const sha = work.git('rev-parse', branch)
  expect(await gate(path, 'quality')).toMatchObject({ isMet: false, words: 'no report of findings came of its newest commit' })
  const result = (ruleId: string, level: string) => ({
    ruleId,
    level,
    message: { text: `Found by ${ruleId}.` },
    locations: [{ physicalLocation: { artifactLocation: { uri: 'pump/pump.js' }, region: { startLine: 1 } } }],
  })
  const results = [result('B1', 'error'), result('S1', 'warning'), result('S2', 'note')]
  const sent = await app.call(`/receive/reports/sarif?repository=lid&commit=${sha}&branch=${branch}&build=900`, {
    method: 'POST',
    raw: JSON.stringify({ version: '2.1.0', runs: [{ tool: { driver: { name: 'scan' } }, results }] }),
    headers: { authorization: `Bearer ${app.token('evidence')}` },
  })
  expect(sent.status).toBe(200)
  expect(await gate(path, 'quality')).toMatchObject({
    isMet: false,
    words: '1 new bug, none is allowed; 2 new smells, 1 is allowed; debt +50 min, +20 min is allowed',
  })
  await app.call(`/receive/reports/junit?repository=lid&commit=${sha}&branch=${branch}&build=900`, {
    method: 'POST',
    raw: '<testsuite name="pump"><testcase name="turns"/></testsuite>',
    headers: { authorization: `Bearer ${app.token('evidence')}` },
  })
  const found = (await ines('/builds/lid/900/findings')).body
  expect(found.brought).toEqual({ bug: 1, weakness: 0, smell: 2, debtMinutes: 50 })
  expect(found.fresh).toMatchObject([{ ruleId: 'B1', kind: 'bug', minutes: 30, ownerIds: ['teo'], aside: null }, {}, {}])
  const { tool, identity } = found.fresh[0]
  const aside = (ask: Ask, body: object) => ask('/findings/lid/aside', { method: 'PUT', body: { tool, identity, ...body } })
  const day = new Date(app.clock.nowMs + 3 * 86_400_000).toISOString().slice(0, 10)
  expect((await aside(wren, { until: day, why: 'harmless' })).status).toBe(403)
  expect((await aside(ines, { until: day })).body.fields).toHaveProperty('why')
  expect((await aside(ines, { until: '2020-01-01', why: 'harmless' })).body.fields).toHaveProperty('until')
  expect((await aside(ines, { until: day, why: 'harmless', identity: 'nothing' })).status).toBe(404)
  expect((await aside(ines, { until: day, why: 'harmless here' })).status).toBe(200)
  expect((await wren('/set-aside-findings')).body.rows).toMatchObject([
    { repository: 'lid', what: 'Found by B1', until: day, by: 'person:ines' },
  ])
  expect(await gate(path, 'quality')).toMatchObject({ words: '2 new smells, 1 is allowed' })
  await put({ quality: 'at most 2 new smells, debt +20 min' })
  expect(await gate(path, 'quality')).toMatchObject({ isMet: true, words: '2 new smells, debt +20 min' })
  await put({ quality: 'coverage -1 %, coverage of changed lines 80 %' })
  expect((await gate(path, 'quality'))?.words).toMatch(/no coverage of its changed lines.*; no coverage was reported/)
  // A report that speaks of other files than those it changes finds nothing in it that could be measured: nothing of that is left out.
  await app.call(`/receive/reports/lcov?repository=lid&commit=${sha}&branch=${branch}&build=900`, {
    method: 'POST',
    raw: 'SF:elsewhere.js\nDA:1,1\nend_of_record\n',
    headers: { authorization: `Bearer ${app.token('evidence')}` },
  })
  await put({ quality: 'coverage of changed lines 80 %' })
  expect(await gate(path, 'quality')).toMatchObject({ isMet: true })
  app.clock.nowMs += 4 * 86_400_000
  expect((await wren('/set-aside-findings')).body.rows).toEqual([])
  expect((await ines('/builds/lid/900/findings')).body.brought.bug).toBe(1)
  await aside(ines, { until: new Date(app.clock.nowMs).toISOString().slice(0, 10), why: 'harmless here' })
  await aside(ines, { until: null })
  expect((await ines('/builds/lid/900/findings')).body.fresh[0].aside).toBeNull()
  await ines(path, { method: 'PATCH', body: { state: 'closed' } })
})
