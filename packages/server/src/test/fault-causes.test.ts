import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { connectRepository, exceptionRequest, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

let app: App
let repo: TestRepository
let ines: Ask

const PROBE = (expression: string) => `function readCelsius(probe) {
  const raw = probe.read()
  const scale = scaleOf(probe)
  // The offset is measured once a year.
  return ${expression}
}
module.exports = { readCelsius }
`

beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  ines = await app.asks('ines')
  repo.commit('src/probe.js', PROBE('raw.value * scale'), 'Read the probe')
  repo.git('tag', 'v1.0.0')
  repo.commit('docs/probe.md', 'How probes are read.\n', 'Say how probes are read')
  repo.commit('src/probe.js', PROBE('raw.reading.value * scale'), 'Take the newer readings\n\nRefs: EMB-1')
  repo.commit('src/panel.js', 'module.exports = 1\n', 'A panel')
  repo.git('tag', 'v1.1.0')
  connectRepository(app, 'kiln', repo.dir)
  const logged = await ines('/items', {
    method: 'POST',
    body: {
      project: 'EMB',
      type: 'task',
      title: 'Read the newer probes',
      requirement: 'SAF-3',
    },
  })
  expect(logged.status).toBe(201)
  await app.server.sync.request('kiln', 'test')
  await until('the releases are known', async () => (await ines('/releases')).body.services[0].releases.length === 2)
})
afterAll(async () => {
  await app.stop()
  repo.remove()
})

async function causesOf(input: Parameters<typeof exceptionRequest>[0]) {
  const headers = { authorization: `Bearer ${app.token('intake')}` }
  await app.call('/otlp/v1/logs', { method: 'POST', headers, body: exceptionRequest(input) })
  let fault = ''
  await until('it is there', async () => {
    fault = (await ines(`/faults?q=${encodeURIComponent(input.message ?? '')}`)).body.rows[0]?.fault ?? ''
    return fault !== ''
  })
  return (await ines(`/faults/${fault}/causes`)).body
}

test('the commit between the release without it and the first with it is named, with its item, its requirement and why', async () => {
  const causes = await causesOf({
    release: '1.1.0',
    atMs: app.clock.nowMs,
    message: 'cannot read value of undefined',
    place: 'readCelsius (/srv/kiln/src/probe.js:5:14)',
  })
  expect(causes).toMatchObject({ repository: 'kiln', lastGood: { release: '1.0.0' }, firstBad: { release: '1.1.0' }, gap: null })
  expect(causes.suspects[0]).toMatchObject({
    subject: 'Take the newer readings',
    items: ['EMB-1'],
    requirements: ['SAF-3'],
    pullRequest: null,
  })
  expect(causes.suspects[0].reasons).toContain('wrote-the-line')
  expect(causes.suspects).toHaveLength(3)
})

test('where nobody can know, it says why', async () => {
  const place = 'readCelsius (/srv/kiln/src/probe.js:5:14)'
  const at = (release: string, message: string) =>
    causesOf({ release, atMs: app.clock.nowMs, message, place, type: `${message.replaceAll(' ', '')}Error` })
  expect(await at('1.0.0', 'there from the beginning')).toMatchObject({ gap: 'first-release', suspects: [] })
  expect(await at('9.9.9', 'of a release without a tag')).toMatchObject({ gap: 'unknown-release', firstBad: null })
  expect(await at('', 'of no release')).toMatchObject({ gap: 'no-release' })
  expect(await causesOf({ service: 'unheard-of', release: '1', atMs: app.clock.nowMs, message: 'of no repository' })).toMatchObject({
    gap: 'no-repository',
  })
})

test('an item begun from a fault has the requirement proposed that asked for the line, for the change, or says the same', async () => {
  const proposed = async (q: string) => {
    const { fault } = (await ines(`/faults?q=${encodeURIComponent(q)}`)).body.rows[0]
    return (await ines(`/faults/${fault}/item-proposal`)).body.requirement
  }
  expect(await proposed('cannot read value of undefined')).toEqual({
    key: 'SAF-3',
    why: 'the line that failed was written for EMB-1, which it asked for',
  })
  // No line of it is known: the change that likely brought it in speaks, by its name, or words do.
  const place = 'fire (/srv/kiln/src/nowhere.js:1:1)'
  await causesOf({ release: '1.1.0', atMs: app.clock.nowMs, message: 'open thermocouple not recognised', place })
  expect(await proposed('open thermocouple not recognised')).toMatchObject({ key: 'SAF-3' })
  // What nobody asks for any more is not proposed.
  expect((await ines('/requirements/SAF-3/retirement', { method: 'POST', body: { words: 'gone' } })).status).toBe(200)
  expect(await proposed('cannot read value of undefined')).toBeNull()
})
