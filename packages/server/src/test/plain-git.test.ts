import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { execFileSync } from 'node:child_process'
import { chmodSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { verifyTables } from '#verify-tables'
import { startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

/** A team with nothing but a bare repository: pull requests live here, git does the merging, and what git shows wins. */
const places = mkdtempSync(join(tmpdir(), 'dystracer-plain-'))
const bare = join(places, 'tides.git')
const work = new TestRepository()
let app: App
let ines: Ask
let rafe: Ask
const git = (...args: string[]) => execFileSync('git', args, { cwd: bare, encoding: 'utf8' }).trim()
const sync = () => app.server.sync.request('tides', 'test')
const push = async (...refs: string[]) => {
  work.git('push', '--quiet', '--force', bare, ...refs)
  await sync()
}
/** A branch from main with one commit, pushed. */
async function branch(name: string, file: string, text: string, message: string): Promise<string> {
  work.git('checkout', '--quiet', '-B', name, 'main')
  const sha = work.commit(file, text, message)
  await push(name)
  return sha
}
const open = (source: string, more: object = {}, ask = rafe) =>
  ask('/pull-requests', { method: 'POST', body: { repository: 'tides', source, ...more } })
const read = async (number: number) => (await rafe(`/pull-requests/tides/${number}`)).body
const merge = (number: number, ask = rafe) => ask(`/pull-requests/tides/${number}/merge`, { method: 'POST', body: {} })
const log = async (title: string): Promise<string> => (await rafe('/items', { method: 'POST', body: { title } })).body.key

beforeAll(async () => {
  execFileSync('git', ['init', '--quiet', '--bare', '--initial-branch=main', bare])
  app = await startApp({ config: { repositoriesDir: places } })
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
  work.commit('tides.py', 'one\n', 'Begin')
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

describe('a pull request of plain git', () => {
  test('is opened of a pushed branch, merged with real git and pushed, and moves the item that it fixes', async () => {
    const key = await log('Low water is an hour late')
    const head = await branch(`fix/${key.toLowerCase()}`, 'low.py', 'low\n', `Count from high water\n\nFixes: ${key}`)
    const { number } = (await open(`fix/${key.toLowerCase()}`, { text: `Fixes ${key}` })).body
    expect(await read(number)).toMatchObject({
      title: 'Count from high water',
      author: 'Rafe Varga',
      state: 'open',
      base: 'main',
      isOurs: true,
      missing: null,
      items: [key],
      headSha: head,
    })
    expect((await open(`fix/${key.toLowerCase()}`)).body.number).toBe(number)
    expect((await rafe('/pull-requests/tides/1/diff')).body.diff).toContain('+low')
    expect((await merge(number)).status).toBe(200)
    expect(git('log', '-1', '--format=%an <%ae>%n%s%n%b', 'main')).toContain(
      `Rafe Varga <rafe@emberwick.example>\nMerge fix/${key.toLowerCase()}: Count`,
    )
    expect(git('rev-parse', 'main^2')).toBe(head)
    expect(await read(number)).toMatchObject({ state: 'merged', mergeSha: git('rev-parse', 'main') })
    expect((await rafe(`/items/${key}`)).body.stage).toBe('merged')
    expect((await merge(number)).body.detail).toContain('merged already')
    work.git('fetch', '--quiet', bare, 'main')
    work.git('checkout', '--quiet', '-B', 'main', 'FETCH_HEAD')
  })

  test('that conflicts names the files, and nothing is changed', async () => {
    await branch('one', 'shared.py', 'one\n', 'One')
    const { number } = (await open('one')).body
    work.git('checkout', '--quiet', 'main')
    work.commit('shared.py', 'another\n', 'Another')
    await push('main')
    const before = git('rev-parse', 'main')
    const refused = await merge(number)
    expect(refused.status).toBe(409)
    expect(refused.body).toMatchObject({
      facts: { files: ['shared.py'] },
      detail: expect.stringContaining('conflicts with main in shared.py'),
    })
    expect(git('rev-parse', 'main')).toBe(before)
    expect((await read(number)).state).toBe('open')
  })

  test('waits for builds only where builds are reported, and is told what the remote refuses', async () => {
    const head = await branch('guarded', 'guarded.py', 'x\n', 'Guarded')
    const { number } = (await open('guarded')).body
    const hook = join(bare, 'hooks', 'pre-receive')
    writeFileSync(hook, '#!/bin/sh\necho "only on weekdays" >&2\nexit 1\n')
    chmodSync(hook, 0o755)
    expect((await merge(number)).body.detail).toContain('only on weekdays')
    rmSync(hook)
    // Nobody tells of builds here but by the reports of their tests.
    const build = (commit: string, number: number, inside = '') =>
      app.call(`/receive/reports/junit?repository=tides&commit=${commit}&build=${number}`, {
        method: 'POST',
        raw: `<testsuite name="tides"><testcase name="holds">${inside}</testcase></testsuite>`,
        headers: { authorization: `Bearer ${app.token('intake')}`, 'content-type': 'application/xml' },
      })
    await build(git('rev-parse', 'main'), 1)
    expect((await read(number)).missing).toContain('No build of its newest commit')
    expect((await merge(number)).status).toBe(409)
    await build(head, 2, '<failure message="no"/>')
    expect((await read(number)).missing).toBe('Build 2 broke; mend it and push again.')
    await build(head, 3)
    expect((await read(number)).missing).toBeNull()
    expect((await merge(number)).status).toBe(200)
  })

  test('is refused for a branch that is not there or brings nothing, and for a reader', async () => {
    expect((await open('nowhere')).body.fields.source).toContain('push it first')
    expect((await open('main')).body.detail).toContain('no commit that main lacks')
    expect((await open('one', { target: 'nowhere' })).body.fields.target).toContain('no branch nowhere')
    expect((await open('one', {}, await app.asks('wren'))).status).toBe(403)
  })
})

describe('what git shows wins', () => {
  beforeAll(() => {
    work.git('fetch', '--quiet', bare, 'main')
    work.git('checkout', '--quiet', '-B', 'main', 'FETCH_HEAD')
  })

  test('a branch merged elsewhere is merged: by a merge, by fast-forward, by rebase', async () => {
    await branch('by-merge', 'a.py', 'a\n', 'A')
    await branch('by-rebase', 'b.py', 'b\n', 'B')
    const merged = (await open('by-merge')).body.number
    const rebased = (await open('by-rebase')).body.number
    work.git('checkout', '--quiet', 'main')
    work.git('merge', '--quiet', '--no-ff', '-m', 'Bring A', 'by-merge')
    const mergeSha = work.git('rev-parse', 'HEAD')
    work.git('cherry-pick', 'by-rebase')
    await push('main')
    expect(await read(merged)).toMatchObject({ state: 'merged', mergeSha, commits: [expect.objectContaining({ subject: 'A' })] })
    expect(await read(rebased)).toMatchObject({ state: 'merged', commits: [expect.objectContaining({ subject: 'B' })] })

    await branch('forward', 'c.py', 'c\n', 'C')
    const forwarded = (await open('forward')).body.number
    work.git('checkout', '--quiet', 'main')
    work.git('merge', '--quiet', '--ff-only', 'forward')
    await push('main')
    expect(await read(forwarded)).toMatchObject({ state: 'merged', commits: [expect.objectContaining({ subject: 'C' })] })
  })

  test('a branch that moved is a new version; one deleted unmerged closes it; pushed again it can be opened again', async () => {
    await branch('moving', 'd.py', 'd\n', 'D')
    const { number } = (await open('moving')).body
    const next = await branch('moving', 'd.py', 'other\n', 'D, differently')
    expect(await read(number)).toMatchObject({
      state: 'open',
      headSha: next,
      commits: [expect.objectContaining({ subject: 'D, differently' })],
    })
    await push(':moving')
    expect((await read(number)).state).toBe('closed')
    const change = (body: object) => rafe(`/pull-requests/tides/${number}`, { method: 'PATCH', body })
    expect((await change({ state: 'open' })).body.detail).toContain('push it again')
    await push('moving')
    expect((await change({ state: 'open', title: 'D at last' })).body).toMatchObject({ state: 'open', title: 'D at last' })
    expect((await change({ state: 'closed' })).body.state).toBe('closed')
  })

  test('a commit that asks for a review opens one by its push', async () => {
    await branch('asked', 'e.py', 'e\n', 'E\n\nReview-by: ines')
    const rows = (await rafe('/pull-requests?repository=tides&state=open')).body.rows
    const asked = rows.find((row: { head: string }) => row.head === 'asked')
    expect(asked).toMatchObject({ title: 'E', author: 'Ines Okafor' })
    expect((await read(asked.number)).body).toBe('Review-by: ines')
  })
})

test('work is started by pushing the branch, also where nothing but git is there', async () => {
  const key = await log('High water is early')
  const started = await rafe(`/items/${key}/start`, { method: 'POST', body: { repository: 'tides' } })
  expect(started.status).toBe(200)
  expect(git('rev-parse', started.body.branch)).toBe(git('rev-parse', 'main'))
})

describe('a commit that stands', () => {
  const carry = (sha: string, body: object, ask = rafe) => ask(`/commits/tides/${sha}/carrying`, { method: 'POST', body })

  test('is brought to another line with its author and its ties, and taken back, each as a pull request', async () => {
    const key = await log('Neap tides are marked as spring tides')
    work.git('fetch', '--quiet', bare, 'main')
    work.git('checkout', '--quiet', '-B', 'main', 'FETCH_HEAD')
    work.git('branch', '-f', 'line/1.0', 'main')
    work.commit('later.py', 'later\n', 'Something that the old line lacks')
    const sha = work.commit('neap.py', 'neap\n', `Tell neap from spring\n\nBy the age of the moon.\n\nFixes: ${key}`)
    await push('main', 'line/1.0')
    const { number } = (await carry(sha, { how: 'pick', onto: 'line/1.0' })).body
    expect(await read(number)).toMatchObject({ base: 'line/1.0', state: 'open', items: [key], title: 'Tell neap from spring' })
    const head = (await read(number)).head
    expect(git('log', '-1', '--format=%an|%cn|%b', head)).toBe(
      `${work.git('log', '-1', '--format=%an').trim()}|Rafe Varga|By the age of the moon.\n\n` +
        `(cherry picked from commit ${sha})\n\nFixes: ${key}`,
    )
    expect(git('ls-tree', '--name-only', head)).not.toContain('later.py')
    // A commit that names nothing, tied by hand: its pick names the item.
    const other = await log('Moonrise is not shown')
    const silent = work.git('rev-parse', 'main~1').trim()
    await rafe(`/items/${other}/links`, { method: 'POST', body: { kind: 'tied', to: { kind: 'commit', id: `tides/${silent}` } } })
    const silentPick = (await carry(silent, { how: 'pick', onto: 'line/1.0' })).body.number
    expect((await read(silentPick)).items).toEqual([other])
    expect(git('log', '-1', '--format=%B', (await read(silentPick)).head)).toBe(
      `Something that the old line lacks\n\n(cherry picked from commit ${silent})\n\nRefs: ${other}`,
    )
    const back = (await carry(sha, { how: 'revert', onto: 'main' })).body.number
    expect(await read(back)).toMatchObject({ base: 'main', items: [key], title: 'Revert "Tell neap from spring"' })
    expect(git('ls-tree', '--name-only', (await read(back)).head)).not.toContain('neap.py')
    const merging = { method: 'POST', body: { method: 'merge', passOver: 'it does harm' } }
    expect((await ines(`/pull-requests/tides/${back}/merging`, merging)).status).toBe(200)
    expect((await rafe(`/items/${key}`)).body.stage).not.toBe('merged')
  })

  test('is not carried where it is, where it never was, or where it does not fit', async () => {
    work.git('fetch', '--quiet', bare, 'main')
    work.git('checkout', '--quiet', '-B', 'main', 'FETCH_HEAD')
    const sha = work.commit('tides.py', 'two\n', 'Count in minutes')
    work.git('checkout', '--quiet', '-B', 'line/0.9', 'main~1')
    work.commit('tides.py', 'otherwise\n', 'Count in hours')
    await push('main', 'line/0.9')
    expect((await carry(sha, { how: 'pick', onto: 'main' })).body.detail).toContain('has this commit already')
    expect((await carry(sha, { how: 'pick', onto: 'line/0.9' })).body).toMatchObject({ code: 'conflict', facts: { files: ['tides.py'] } })
    expect((await carry(sha, { how: 'revert', onto: 'line/1.0' })).body.detail).toContain('nothing to take back')
    expect((await carry(sha, { how: 'pick', onto: 'gone' })).body.fields.onto).toContain('There is no branch gone')
    expect((await carry(sha.slice(0, 8), { how: 'pick', onto: 'line/0.9' })).status).toBe(404)
    expect(git('branch', '--list', 'pick/*')).not.toContain('line-0.9')
  })
})

describe('a change that is looked at', () => {
  const remark = async (number: number, place: object, text: string, instead: string | null): Promise<string> => {
    const { body } = await ines(`/pull-requests/tides/${number}/remarks`, { method: 'POST', body: { text, place, instead } })
    return body.remarks.find((each: { text: string; isSettled: boolean }) => each.text === text && !each.isSettled).remarkId
  }
  const take = (number: number, remarkIds: string[]) =>
    rafe(`/pull-requests/tides/${number}/proposed-changes`, { method: 'POST', body: { remarkIds } })
  const on = (path: string, line: number, lastLine = line) => ({ path, line, lastLine, side: 'new' })

  test('takes what remarks propose as one commit of theirs, and settles them', async () => {
    const file = 'moon.py'
    await branch('feature/moon', file, 'one\ntwo\nthree\nfour\n', 'Reckon with the moon')
    const { number } = (await open('feature/moon')).body
    const first = await remark(number, on(file, 2), 'Say it', 'TWO\nand a half')
    const second = await remark(number, on(file, 4), '', '')
    const words = await remark(number, on(file, 1), 'Only words', null)
    expect((await take(number, [words])).body).toMatchObject({ code: 'conflict', detail: expect.stringContaining('proposes nothing') })
    const { status, body } = await take(number, [first, second])
    expect(status).toBe(200)
    expect(git('show', `feature/moon:${file}`)).toBe('one\nTWO\nand a half\nthree')
    expect(git('log', '-1', '--format=%an|%cn|%s', 'feature/moon')).toBe('Ines Okafor|Rafe Varga|Change 2 places in moon.py as proposed')
    const left = body.remarks.filter((each: { isSettled: boolean }) => !each.isSettled)
    expect(left.map((each: { remarkId: string }) => each.remarkId)).toEqual([words])
    expect((await read(number)).commits).toHaveLength(2)
    // Its line was taken out by the commit: it cannot be taken once more.
    expect((await take(number, [second])).body.detail).toContain('changed since')
  })

  test('refuses two proposals for one line, and leaves everything as it was', async () => {
    const { number } = (await open('feature/moon')).body
    const one = await remark(number, on('moon.py', 1), 'in English', 'ONE')
    const other = await remark(number, on('moon.py', 1, 2), 'in Italian', 'uno')
    const before = git('rev-parse', 'feature/moon')
    expect((await take(number, [one, other])).body.detail).toContain('Two of them change line 1 of moon.py')
    expect((await take(number, ['nobody'])).status).toBe(404)
    expect(git('rev-parse', 'feature/moon')).toBe(before)
  })

  test('is to be looked at by who looks after its paths and who knows them, but not by who wrote it', async () => {
    const { number } = (await open('feature/moon')).body
    const proposed = async () => (await rafe(`/pull-requests/tides/${number}/reviewer-proposals`)).body.rows
    expect(await proposed()).toEqual([])
    work.git('fetch', '--quiet', bare, 'main')
    work.git('checkout', '--quiet', '-B', 'main', 'FETCH_HEAD')
    work.commit('.dystracer/owners', '*.py "Teo Marsh"\n', 'Say who looks after what')
    await push('main')
    expect(await proposed()).toEqual([{ personId: 'teo', owned: ['moon.py'], commits: 0, waiting: 0 }])
    await rafe(`/pull-requests/tides/${number}/reviewers`, { method: 'POST', body: { personId: 'teo' } })
    expect(await proposed()).toEqual([])
  })
})

test('gates are tried on what was merged: what each would have stopped, and whether that did harm', async () => {
  const merged = (await rafe('/pull-requests?filter=merged&limit=60')).body.rows as { number: number; items: string[] }[]
  const trial = async () => (await rafe('/repositories/tides/gate-trial')).body
  const before = await trial()
  expect(before.merges).toBe(merged.length)
  const numbers = (code: string, needs = 0) =>
    before.rows.find((row: { code: string; needs: number }) => row.code === code && row.needs === needs).stopped
  expect(numbers('agreements', 1).length).toBeLessThanOrEqual(numbers('agreements', 2).length)
  const untied = merged.filter(({ items }) => items.length === 0).map(({ number }) => number)
  expect(numbers('item')).toEqual(untied.sort((a, b) => b - a))
  const culprit = merged[0]?.number ?? 0
  const key = await log('It was worse afterwards')
  const { commits } = await read(culprit)
  const to = { kind: 'commit', id: `tides/${commits[0].sha}` }
  expect((await rafe(`/items/${key}/links`, { method: 'POST', body: { kind: 'brought-in-by', to } })).status).toBe(200)
  expect((await trial()).harmful).toEqual([culprit])
})

test('a build that breaks by tests alone that are set aside closes no gate; one more that is not, does', async () => {
  const { number } = (await open('feature/moon')).body
  const { headSha } = await read(number)
  const report = (build: number, cases: string) =>
    app.call(`/receive/reports/junit?repository=tides&commit=${headSha}&branch=feature/moon&build=${build}`, {
      method: 'POST',
      raw: `<testsuite name="moon">${cases}</testsuite>`,
      headers: { authorization: `Bearer ${app.token('evidence')}` },
    })
  const fails = (name: string) => `<testcase name="${name}"><failure message="late"/></testcase>`
  const isBuildMet = async () =>
    (await rafe(`/pull-requests/tides/${number}/review`)).body.gates.find(({ code }: { code: string }) => code === 'build').isMet
  await report(901, `${fails('rises')}<testcase name="sets"/>`)
  expect(await isBuildMet()).toBe(false)
  const until = new Date(app.clock.nowMs + 5 * 86_400_000).toISOString().slice(0, 10)
  await rafe('/test-records/tides/aside', { method: 'PUT', body: { suite: 'moon', name: 'rises', until, why: 'the sky is clouded' } })
  expect(await isBuildMet()).toBe(true)
  await report(902, `${fails('rises')}${fails('sets')}`)
  expect(await isBuildMet()).toBe(false)
})

test('tests have to run the lines that it brings where the repository asks for it; which they run is told by line', async () => {
  const headSha = await branch('feature/neap', 'neap.py', 'one\ntwo\nthree\n\nfive\n', 'Reckon neap tides')
  const { number } = (await open('feature/neap')).body
  const set = (body: object) => ines('/repositories/tides/gates', { method: 'PUT', body })
  expect((await set({ coverageAtLeast: 101 })).status).toBe(422)
  expect((await set({ coverageAtLeast: 80 })).body.rules[0]).toMatchObject({ branches: '*', coverageAtLeast: 80 })
  const gate = async () =>
    (await rafe(`/pull-requests/tides/${number}/review`)).body.gates.find(({ code }: { code: string }) => code === 'coverage')
  expect(await gate()).toMatchObject({ isMet: false, words: expect.stringContaining('No coverage was reported') })
  const report = (build: number, lines: string, { sha, line } = { sha: headSha, line: 'neap' }) =>
    app.call(`/receive/reports/lcov?repository=tides&commit=${sha}&branch=feature/${line}&build=${build}`, {
      method: 'POST',
      raw: `SF:${line}.py\n${lines}end_of_record\nSF:tides.py\nDA:1,0\nend_of_record\n`,
      headers: { authorization: `Bearer ${app.token('evidence')}` },
    })
  expect((await report(950, 'DA:1,1\nDA:2,0\nDA:3,4\n')).status).toBeLessThan(300)
  expect(await gate()).toMatchObject({ isMet: false, has: 66, needs: 80 })
  expect((await rafe(`/pull-requests/tides/${number}/coverage`)).body).toEqual({
    build: 'tides/950',
    files: [{ path: 'neap.py', covered: [1, 3], missed: [2] }],
    covered: 2,
    missed: 1,
    isCut: false,
  })
  expect((await merge(number)).body.detail).toContain('80 are asked for')
  // A second report of the same build adds up: what either ran is run.
  await report(950, 'DA:2,1\n')
  expect(await gate()).toMatchObject({ isMet: true, has: 100 })
  await set({ coverageAtLeast: null })
  expect(await gate()).toBeUndefined()

  // Two of three lines run: merged, it would have passed at 50 and not at 80; one that nothing measured passes at neither.
  const springSha = await branch('feature/spring', 'spring.py', 'one\ntwo\nthree\n', 'Reckon spring tides')
  const spring = (await open('feature/spring')).body.number
  await report(951, 'DA:1,1\nDA:2,0\nDA:3,4\n', { sha: springSha, line: 'spring' })
  expect((await merge(spring)).status).toBe(200)
  const { rows, merges } = (await rafe('/repositories/tides/gate-trial')).body
  const stopped = (needs: number) =>
    rows.find((row: { code: string; needs: number }) => row.code === 'coverage' && row.needs === needs).stopped
  expect(stopped(50)).not.toContain(spring)
  expect(stopped(50)).toHaveLength(merges - 1)
  expect(stopped(80)).toContain(spring)
})
