import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { verifyTables } from '#verify-tables'
import { startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

/** Changes stand in a row: each is built on top of those before it, and goes to the base as just what was built. */
const places = mkdtempSync(join(tmpdir(), 'dystracer-queue-'))
const bare = join(places, 'lid.git')
const work = new TestRepository()
let app: App
let ines: Ask
let build = 0
const git = (...args: string[]) => execFileSync('git', args, { cwd: bare, encoding: 'utf8' }).trim()

beforeAll(async () => {
  execFileSync('git', ['init', '--quiet', '--bare', '--initial-branch=main', bare])
  app = await startApp({ config: { repositoriesDir: places } })
  ines = await app.asks('ines')
  work.commit('lid.js', 'a\nb\nc\n', 'Begin')
  work.git('push', '--quiet', bare, 'main')
  await ines('/projects/EMB/repositories', { method: 'POST', body: { url: bare } })
  await until('it was read', async () => (await ines('/repositories')).body.rows[0]?.commits === 1)
  await ines('/repositories/lid/gates', { method: 'PUT', body: { triesOnTop: true } })
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  rmSync(places, { recursive: true, force: true })
  work.remove()
})

async function report(sha: string, branch: string, isWell: boolean): Promise<void> {
  const answer = await app.call(`/receive/reports/junit?repository=lid&commit=${sha}&branch=${branch}&build=${++build}`, {
    method: 'POST',
    raw: `<testsuite name="lid"><testcase name="holds">${isWell ? '' : '<failure message="no"/>'}</testcase></testsuite>`,
    headers: { authorization: `Bearer ${app.token('evidence')}` },
  })
  expect(answer.status).toBe(200)
}

/** A change on a branch of its own, whose own newest commit was built well. */
async function open(branch: string, file: string, text: string, trailer = ''): Promise<string> {
  work.git('fetch', '--quiet', bare, '+main:main', '--update-head-ok')
  work.git('checkout', '--quiet', '--force', '-B', branch, 'main')
  const sha = work.commit(file, text, `Change ${file} on ${branch}${trailer}`)
  work.git('push', '--quiet', '--force', bare, branch)
  await app.server.sync.request('lid', 'a push')
  const { number } = (await ines('/pull-requests', { method: 'POST', body: { repository: 'lid', source: branch } })).body
  await report(sha, branch, true)
  return `/pull-requests/lid/${number}`
}
const want = (path: string) => ines(`${path}/merging`, { method: 'POST', body: { method: 'merge' } })
const trialOf = (path: string) => `queue/main/${path.split('/').at(-1)}`
const shaOf = (branch: string) => git('rev-parse', '--verify', '--quiet', `refs/heads/${branch}`)
const isThere = (branch: string) => git('branch', '--list', branch) !== ''
const wish = async (path: string) => (await ines(`${path}/review`)).body.wish
const wordsOf = async (path: string) =>
  (await ines(`${path}/review`)).body.gates.find((gate: { code: string }) => gate.code === 'queue')?.words as string
const steppedOut = async (path: string) =>
  (await ines(`${path}/review`)).body.happened.find(
    (entry: { kind: string; facts: { why?: string } }) => entry.kind === 'merge-wanted' && entry.facts.why,
  )?.facts.why as string

test('each is built on top of those before it; one that breaks steps out, and the base takes just what was built', async () => {
  const [first, second, third] = [
    await open('one', 'one.js', '1\n'),
    await open('two', 'two.js', '2\n'),
    await open('three', 'one.js', '3\n'),
  ] as const
  expect(await wordsOf(first)).toContain('once somebody wants it merged')
  // Nobody merges by hand past the row.
  expect((await ines(`${first}/merge`, { method: 'POST', body: {} })).status).toBe(409)
  for (const path of [first, second]) await want(path)
  await until('both are tried', () => isThere(trialOf(first)) && isThere(trialOf(second)))
  const main = shaOf('main')
  const tried = shaOf(trialOf(first))
  expect(git('rev-parse', `${tried}^1`, `${tried}^2`).split('\n')).toEqual([main, shaOf('one')])
  expect(git('rev-parse', `${shaOf(trialOf(second))}^1`)).toBe(tried)
  expect(await wordsOf(second)).toMatch(/merged with main and \d+ to see, and waits to be built/)

  // The row stands in one list, in its order, with how each does.
  const row = async () => (await ines('/merges-waiting')).body.rows
  const numberOf = (path: string) => Number(path.split('/').at(-1))
  expect(await row()).toMatchObject([
    { repository: 'lid', number: numberOf(first), base: 'main', by: 'person:ines', unmet: [], trial: { ahead: [], build: null } },
    { number: numberOf(second), unmet: [], trial: { ahead: [numberOf(first)] } },
  ])
  expect((await app.call('/api/v1/merges-waiting')).status).toBe(401)

  // The third changes the file that the first does: it steps out at once, and says behind whom.
  await want(third)
  await until('it steps out', async () => (await wish(third)) === null)
  expect(await steppedOut(third)).toMatch(/^Behind \d+, \d+, which stand before it in the row: It conflicts with main in one\.js/)

  // What stands behind is not taken before what it was built on.
  await report(shaOf(trialOf(second)), trialOf(second), true)
  expect([shaOf('main'), await wish(second)]).toEqual([main, expect.objectContaining({ method: 'merge' })])
  await report(tried, trialOf(first), false)
  await until('the first steps out', async () => (await wish(first)) === null)
  expect(await steppedOut(first)).toMatch(/^Merged with main, build \d+ broke\. Mend it/)
  await until('the second is tried anew', () => git('rev-parse', `${shaOf(trialOf(second))}^1`) === main)
  expect(isThere(trialOf(first))).toBe(false)

  const built = shaOf(trialOf(second))
  await report(built, trialOf(second), true)
  await until('the base took it', () => shaOf('main') === built)
  await until('it counts as merged', async () => (await ines(second)).body.state === 'merged')
  await until('its branch is gone', () => !isThere(trialOf(second)))
  expect(await row()).toEqual([])
  expect((await ines(first)).body.state).toBe('open')
})

test('those behind go on what the base took, without being built again; whoever does not want it any more leaves no branch', async () => {
  const [first, second] = [await open('four', 'four.js', '4\n'), await open('five', 'five.js', '5\n')] as const
  for (const path of [first, second]) await want(path)
  await until('both are tried', () => isThere(trialOf(first)) && isThere(trialOf(second)))
  const both = shaOf(trialOf(second))
  await report(both, trialOf(second), true)
  await report(shaOf(trialOf(first)), trialOf(first), true)
  await until('both are merged', () => shaOf('main') === both)
  await until(
    'both count as merged',
    async () => (await ines(first)).body.state === 'merged' && (await ines(second)).body.state === 'merged',
  )

  const last = await open('six', 'six.js', '6\n')
  await want(last)
  await until('it is tried', () => isThere(trialOf(last)))
  await ines(`${last}/merging`, { method: 'POST', body: { method: null } })
  app.clock.nowMs += 61_000
  await report('f'.repeat(40), 'elsewhere', true)
  const other = await open('seven', 'seven.js', '7\n')
  await want(other)
  await until('its branch is gone', () => !isThere(trialOf(last)))
  expect((await ines(last)).body.state).toBe('open')
  await ines(`${other}/merging`, { method: 'POST', body: { method: null } })
  await until('that of the other is gone, too', () => !isThere(trialOf(other)))
})

test('one commit of all its changes, whose trailers ask for a review, opens no change of its own while it is merged to see', async () => {
  const path = await open('eight', 'eight.js', '8\n', '\n\nReview-by: rafe')
  await ines(`${path}/merging`, { method: 'POST', body: { method: 'squash' } })
  await until('it is tried', () => isThere(trialOf(path)))
  await app.server.sync.request('lid', 'a look')
  const rows = (await ines('/pull-requests?repository=lid')).body.rows as { head: string }[]
  expect(rows.filter(({ head }) => head.startsWith('queue/'))).toEqual([])
  const built = shaOf(trialOf(path))
  await report(built, trialOf(path), true)
  await until('the base took it', () => shaOf('main') === built)
  await until('it counts as merged', async () => (await ines(path)).body.state === 'merged')
  await until('its branches are gone', () => !isThere(trialOf(path)) && !isThere('eight'))
})
