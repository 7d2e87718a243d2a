import { afterEach, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { connectRepository, startApp, TestRepository, type App } from './app-harness.js'

let app: App
afterEach(() => app.stop())

test('a claim is drift until a lead stands for it with a reason; taken back, the stage goes with it', async () => {
  app = await startApp()
  const [ines, rafe] = [await app.asks('ines'), await app.asks('rafe')]
  const { key } = (await rafe('/items', { method: 'POST', body: { title: 'Write the lid’s manual', type: 'task' } })).body
  const post = (ask: typeof ines, path: string, body: object) => ask(`/items/${key}/${path}`, { method: 'POST', body })
  expect((await post(ines, 'claims/acceptance', { stage: 'merged', words: 'seen' })).status).toBe(404)
  expect((await post(rafe, 'claims', { stage: 'merged', words: 'It is printed' })).body).toMatchObject({
    hasDrift: true,
    stage: 'logged',
  })
  expect((await post(rafe, 'claims/acceptance', { stage: 'merged', words: 'seen' })).status).toBe(403)
  expect((await post(ines, 'claims/acceptance', { stage: 'merged', words: '' })).status).toBe(422)
  const accepted = (await post(ines, 'claims/acceptance', { stage: 'merged', words: 'I hold it in my hands' })).body
  expect(accepted.stage).toBe('merged')
  expect(accepted.ladder.drift.map(({ code }: { code: string }) => code)).not.toContain('claim')
  expect(JSON.stringify(accepted.ladder)).toContain('I hold it in my hands')
  expect((await post(rafe, 'claims/removal', { stage: 'merged' })).body.stage).toBe('logged')
  await post(ines, 'claims', { stage: 'released', words: 'shipped' })
  expect((await post(rafe, 'claims/removal', { stage: 'released' })).status).toBe(403)
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
})

test('an item does not wait for a repository that needs nothing of its fix; taken back, it waits again', async () => {
  app = await startApp()
  const repos = [new TestRepository(), new TestRepository()]
  try {
    const [ines, rafe] = [await app.asks('ines'), await app.asks('rafe')]
    const { key } = (await rafe('/items', { method: 'POST', body: { title: 'Relay stays closed' } })).body
    for (const [at, name] of ['kiln', 'planner'].entries()) {
      const repo = repos[at] as TestRepository
      repo.commit('README.md', 'one\n', 'Begin')
      if (name === 'planner') repo.git('checkout', '--quiet', '-b', `${key}-later`)
      repo.commit('src/relay.js', 'open\n', `Open it\n\nFixes: ${key}`)
      connectRepository(app, name, repo.dir)
      await app.server.sync.request(name, 'test')
    }
    const merged = async () => (await ines(`/items/${key}/ladder`)).body.treads.find(({ stage }: { stage: string }) => stage === 'merged')
    const declare = (ask: typeof ines, repository: string, words: string | null) =>
      ask(`/items/${key}/unaffected`, { method: 'POST', body: { repository, words } })
    expect((await merged()).state).toBe('partial')
    expect((await declare(rafe, 'planner', 'it has no relay')).status).toBe(403)
    expect((await declare(ines, 'planner', ' ')).status).toBe(422)
    expect((await declare(ines, 'nowhere', 'it is not there')).body.fields.repository).toContain('no repository nowhere')
    expect((await declare(ines, 'planner', 'it has no relay')).body.stage).toBe('merged')
    const { state, evidence } = await merged()
    expect(state).toBe('proved')
    expect(evidence.map(({ code }: { code: string }) => code)).toEqual(['repository-unaffected', 'fix-on-main'])
    expect(evidence[0]).toMatchObject({ by: 'person:ines', facts: { repository: 'planner', words: 'it has no relay' } })
    expect((await declare(ines, 'planner', null)).body.stage).not.toBe('merged')
    expect((await merged()).state).toBe('partial')
    expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  } finally {
    for (const repo of repos) repo.remove()
  }
})
