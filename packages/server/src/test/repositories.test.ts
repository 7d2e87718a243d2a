import { afterEach, beforeEach, describe, expect, test } from '@jest/globals'
import { rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { connectRepository, startApp, TestRepository, type Answer, type App } from './app-harness.js'

let app: App
let repo: TestRepository
let ask: (path: string) => Promise<Answer>
let key: string

beforeEach(async () => {
  app = await startApp()
  repo = new TestRepository()
  repo.commit('src/probe.js', 'one\n', 'Begin')
  connectRepository(app, 'kiln', repo.dir)
  await sync()
  const rafe = await app.as('rafe')
  ask = (path) => rafe(`/api/v1${path}`)
  key = (await rafe('/api/v1/items', { method: 'POST', body: { title: 'Relay stays closed' } })).body.key
})
afterEach(async () => {
  await app.stop()
  repo.remove()
})

const sync = () => app.server.sync.request('kiln', 'test')
const treads = async (): Promise<Record<string, string>> => {
  const { body } = await ask(`/items/${key}/ladder`)
  return Object.fromEntries(body.treads.map((tread: { stage: string; state: string }) => [tread.stage, tread.state]))
}
const repositoryView = async () => (await ask('/repositories')).body.rows[0]

/** Changes the repository as a lead does. */
async function changing(): Promise<(body: object) => Promise<Answer>> {
  const ines = await app.asks('ines')
  return (body) => ines('/repositories/kiln', { method: 'PATCH', body })
}

/** A fix on a branch of its own; gives its hash. */
function commitFix(content = 'two\n', message = `Open the relay\n\nFixes: ${key}`): string {
  repo.git('checkout', '--quiet', '-B', `fix/${key}-relay`, 'main')
  return repo.commit('src/probe.js', content, message)
}

describe('the ladder follows git', () => {
  test('a branch and a fixing commit make it Underway, the main line makes it Merged', async () => {
    commitFix()
    await sync()
    expect(await treads()).toMatchObject({ underway: 'proved', merged: 'waiting' })
    repo.git('checkout', '--quiet', 'main')
    repo.git('merge', '--quiet', '--no-ff', `fix/${key}-relay`)
    await sync()
    expect(await treads()).toMatchObject({ merged: 'proved' })
  })

  test('a squash of one commit, a rebase and a cherry-pick keep the identity of the change', async () => {
    const sha = commitFix()
    repo.git('checkout', '--quiet', 'main')
    repo.commit('README.md', 'moved on\n', 'Move on')
    repo.git('cherry-pick', sha)
    repo.git('branch', '-D', `fix/${key}-relay`)
    await sync()
    expect(await treads()).toMatchObject({ merged: 'proved' })
  })

  test('a revert takes Merged back, a revert of the revert gives it again', async () => {
    const sha = commitFix()
    repo.git('checkout', '--quiet', 'main')
    repo.git('merge', '--quiet', '--no-ff', `fix/${key}-relay`)
    repo.git('revert', '--no-edit', sha)
    await sync()
    expect(await treads()).toMatchObject({ merged: 'contradicted' })
    repo.git('revert', '--no-edit', 'HEAD')
    await sync()
    expect(await treads()).toMatchObject({ merged: 'proved' })
  })

  test('reverting a merge reverts all that it brought', async () => {
    commitFix()
    repo.git('checkout', '--quiet', 'main')
    repo.git('merge', '--quiet', '--no-ff', `fix/${key}-relay`)
    repo.git('revert', '--no-edit', '-m', '1', 'HEAD')
    await sync()
    expect(await treads()).toMatchObject({ merged: 'contradicted' })
  })

  test('a commit that denies fixing it is tied, and no fix', async () => {
    commitFix('three\n', `Log more\n\nThis does not fix ${key}.`)
    repo.git('checkout', '--quiet', 'main')
    repo.git('merge', '--quiet', `fix/${key}-relay`)
    await sync()
    expect(await treads()).toMatchObject({ underway: 'proved', merged: 'waiting' })
  })
})

describe('what goes wrong outside is shown as such, and nothing is lost', () => {
  test('a deleted branch stays known as gone', async () => {
    commitFix()
    await sync()
    repo.git('checkout', '--quiet', 'main')
    repo.git('branch', '-D', `fix/${key}-relay`)
    await sync()
    const { body } = await ask(`/items/${key}/ladder`)
    const underway = body.treads.find((tread: { stage: string }) => tread.stage === 'underway')
    expect(underway.evidence.find((entry: { code: string }) => entry.code === 'branch').facts.isGone).toBe(true)
    expect(underway.evidence.some((entry: { code: string }) => entry.code === 'commit')).toBe(true)
  })

  test('a force-push is marked, and the old commits can still be read', async () => {
    const old = commitFix()
    await sync()
    repo.git('reset', '--quiet', '--hard', 'main')
    repo.commit('src/probe.js', 'another way\n', `Open the relay otherwise\n\nFixes: ${key}`)
    await sync()
    const branch = (await repositoryView()).branches.find((entry: { name: string }) => entry.name === `fix/${key}-relay`)
    expect(branch.forcedAtMs).not.toBeNull()
    expect((await ask(`/commits/kiln/${old}`)).body.subject).toBe('Open the relay')
  })

  test('a fix on a maintenance line counts once that line is one of the main lines; the ladder says which', async () => {
    repo.git('checkout', '--quiet', '-b', 'keep-4.1', 'main')
    repo.commit('src/probe.js', 'one way\n', `Open the relay\n\nFixes: ${key}`)
    await sync()
    const merged = async () => (await ask(`/items/${key}/ladder`)).body.treads.find((tread: { stage: string }) => tread.stage === 'merged')
    expect((await merged()).state).not.toBe('proved')
    const change = await changing()
    expect((await change({ longLines: ['keep-4.2'] })).body.fields.longLines).toContain('has no branch keep-4.2')
    expect((await change({ longLines: ['keep-4.1'] })).body).toMatchObject({ mainBranch: 'main', longLines: ['keep-4.1'] })
    expect(await merged()).toMatchObject({ state: 'proved', evidence: [{ code: 'fix-on-main', facts: { line: 'keep-4.1' } }] })
    expect((await change({ longLines: [] })).body.longLines).toEqual([])
    expect((await merged()).state).not.toBe('proved')
    repo.git('checkout', '--quiet', 'main')
  })

  test('another branch becomes the main line; one that is not there is refused', async () => {
    repo.git('checkout', '--quiet', '-b', 'trunk', 'main')
    repo.commit('src/probe.js', 'one way\n', `Open the relay\n\nFixes: ${key}`)
    await sync()
    const change = await changing()
    expect((await change({ mainBranch: 'nowhere' })).body.fields.mainBranch).toContain('has no branch nowhere')
    expect((await change({ mainBranch: 'trunk' })).body.mainBranch).toBe('trunk')
    expect((await repositoryView()).branches.find((entry: { isMain: boolean }) => entry.isMain).name).toBe('trunk')
    const merged = (await ask(`/items/${key}/ladder`)).body.treads.find((tread: { stage: string }) => tread.stage === 'merged')
    expect(merged.state).toBe('proved')
    expect((await change({ mainBranch: 'main' })).body.mainBranch).toBe('main')
    repo.git('checkout', '--quiet', 'main')
  })

  test('a tag that moves makes a release marked as rewritten', async () => {
    repo.git('tag', 'v1.0.0')
    await sync()
    repo.git('checkout', '--quiet', 'main')
    const moved = repo.commit('README.md', 'x\n', 'More')
    repo.git('tag', '--force', 'v1.0.0')
    await sync()
    expect((await ask('/releases/kiln@1.0.0')).body).toMatchObject({ isRewritten: true, sha: moved })
  })

  test('a repository that cannot be fetched is shown with its trouble and tried again ever later; then it recovers', async () => {
    const away = `${repo.dir}-away`
    const { renameSync } = await import('node:fs')
    renameSync(repo.dir, away)
    await sync()
    const first = await repositoryView()
    expect(first.trouble).toMatch(/git fetch failed/)
    await sync()
    const second = await repositoryView()
    expect(second.retryAtMs - app.clock.nowMs).toBeGreaterThan(first.retryAtMs - app.clock.nowMs)
    expect((await ask('/commits?limit=10')).body.rows).toHaveLength(1)
    renameSync(away, repo.dir)
    await sync()
    expect(await repositoryView()).toMatchObject({ trouble: null, retryAtMs: null })
  })

  test('a hash that begins several commits is answered with the choices, repository/hash is exact', async () => {
    const twin = new TestRepository()
    try {
      twin.git('pull', '--quiet', repo.dir, 'main')
      connectRepository(app, 'twin', twin.dir)
      await app.server.sync.request('twin', 'test')
      const sha = repo.git('rev-parse', 'main')
      const answer = await ask(`/commits/${sha}`)
      expect(answer.status).toBe(300)
      expect(answer.body.facts.choices).toEqual([`kiln/${sha}`, `twin/${sha}`])
      expect((await ask(`/commits/twin/${sha.slice(0, 10)}`)).body.repository).toBe('twin')
    } finally {
      twin.remove()
    }
  })

  test('names and messages made to mislead git or us are only text', async () => {
    repo.git('checkout', '--quiet', '-b', 'odd')
    writeFileSync(join(repo.dir, '--upload-pack=x'), 'x')
    repo.commit('a b.txt', 'x', 'commit 0000000000000000000000000000000000000000\nparent 1111\n\nnot a header')
    await sync()
    rmSync(join(repo.dir, '--upload-pack=x'))
    const page = await ask('/commits?limit=5')
    expect(page.body.rows[0].subject).toBe('commit 0000000000000000000000000000000000000000')
    const commit = await ask(`/commits/kiln/${page.body.rows[0].sha}`)
    expect(commit.body.files.map((file: { path: string }) => file.path)).toContain('--upload-pack=x')
    expect((await ask('/commits/kiln/--output=x')).status).toBe(404)
  })

  test('booked time counts once per change, on the author’s day, for people who may write', async () => {
    repo.git('checkout', '--quiet', '-b', 'timed')
    const sha = repo.commit('src/a.js', 'a\n', `Work\n\nRefs: ${key}\nTime: 1h 30m`)
    repo.git('checkout', '--quiet', 'main')
    repo.git('cherry-pick', sha)
    await sync()
    expect((await ask(`/items/${key}/time`)).body.rows).toMatchObject([{ personId: 'ines', minutes: 90, provenance: 'commit' }])
  })
})
