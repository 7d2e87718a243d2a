import { afterEach, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { startApp, type App } from './app-harness.js'

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
