import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { startApp, type App, type Ask } from './app-harness.js'

let app: App
let ines: Ask
let wren: Ask
beforeAll(async () => {
  app = await startApp()
  ;[ines, wren] = [await app.asks('ines'), await app.asks('wren')]
})
afterAll(() => app.stop())

test('figures of delivery are none where nothing was deployed, and are held to a time that is asked for', async () => {
  const { body } = await wren('/delivery?days=30')
  expect(body.untilMs - body.fromMs).toBe(30 * 86_400_000)
  expect(body.rows[0]).toMatchObject({ service: null, deployments: 0, failures: null, commitLead: null })
  expect((await ines('/delivery?days=0')).status).toBe(422)
})
