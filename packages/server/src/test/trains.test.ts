import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { lookAtTrains } from '#subjects/trains/trains.commands'
import { verifyTables } from '#verify-tables'
import { connectRepository, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

/** Two services whose code lies in repositories of their own, one released before. */
const kiln = new TestRepository()
const planner = new TestRepository()
let app: App
let ines: Ask
let rafe: Ask
let wren: Ask
const PATH = '/projects/EMB/trains'
const look = async () => {
  for (const name of ['kiln', 'planner']) await app.server.sync.request(name, 'test')
}
const post = (ask: Ask, path: string, body: object = {}) => ask(path, { method: 'POST', body })
const put = (ask: Ask, path: string, body: object = {}) => ask(path, { method: 'PUT', body })
const aPlan = (given: object = {}) => ({ name: 'October', cars: [{ service: 'kiln' }, { service: 'planner' }], ...given })
const read = async (trainId: string) => (await ines(`${PATH}/${trainId}`)).body
const plan = async (given: object = {}) => (await post(ines, PATH, aPlan(given))).body.trainId as string
const tags = (repo: TestRepository) => repo.git('tag').split('\n').filter(Boolean)

beforeAll(async () => {
  kiln.commit('heat.js', 'a\n', 'Heat')
  kiln.git('tag', 'v4.1.0')
  kiln.commit('heat.js', 'b\n', 'Bound the ramp\n\nFixes: EMB-1')
  planner.commit('plan.js', 'a\n', 'Plan')
  app = await startApp()
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
  wren = await app.asks('wren')
  for (const title of ['Ramps too far', 'Plans a full shelf']) await post(ines, '/items', { title })
  app.ctx.journal.write((writer) =>
    writer.append({
      actor: 'system',
      subjects: [],
      kind: 'service-added',
      body: { name: 'planner', project: 'EMB', repository: 'planner', tagPrefix: 'p' },
    }),
  )
  connectRepository(app, 'kiln', kiln.dir)
  connectRepository(app, 'planner', planner.dir)
  await look()
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  kiln.remove()
  planner.remove()
})

describe('a train', () => {
  test('says what each service would bring before anything is made', async () => {
    const train = await read(await plan())
    expect(train).toMatchObject({ name: 'October', standing: 'planned', waits: null, calledOff: null, readyAtMs: null })
    expect(train.cars).toMatchObject([
      { service: 'kiln', release: null, proposed: '4.1.1', against: '4.1.0', commits: 1, items: [{ key: 'EMB-1' }], runsIn: [] },
      { service: 'planner', release: null, against: null, commits: 1, items: [] },
    ])
    expect(train.cars[1].proposed).toMatch(/^\d/)
    expect((await ines(PATH)).body.rows).toMatchObject([
      { name: 'October', cars: [{ service: 'kiln', release: null }, { service: 'planner' }] },
    ])
  })

  test('is refused for what is not there, said by field, and from who may not', async () => {
    const wrong = async (given: object) => (await post(ines, PATH, aPlan(given))).body.fields
    expect(await wrong({ cars: [{ service: 'oven' }] })).toEqual({ cars: 'oven is no service of this project' })
    expect(await wrong({ cars: [{ service: 'kiln' }, { service: 'kiln' }] })).toEqual({ cars: 'kiln stands in it twice' })
    expect(await wrong({ cars: [{ service: 'kiln', release: '9.9.9' }] })).toEqual({ cars: 'kiln has no release 9.9.9' })
    expect(await wrong({ cars: [] })).toEqual({ cars: 'Choose a service' })
    expect(await wrong({ waitsFor: 'milestone=(' })).toEqual({ waitsFor: expect.stringContaining('Not understood') })
    expect(await wrong({ name: ' ' })).toEqual({ name: 'Give it a name' })
    expect((await post(rafe, PATH, aPlan())).status).toBe(403)
    expect((await put(wren, `${PATH}/none`, aPlan())).status).toBe(403)
    expect((await put(ines, `${PATH}/none`, aPlan())).status).toBe(404)
  })

  test('makes the releases that are missing; a service in which nothing changed goes with its newest', async () => {
    const trainId = await plan({ name: 'November' })
    expect((await post(rafe, `${PATH}/${trainId}/releases`)).status).toBe(403)
    const { train, refused } = (await post(ines, `${PATH}/${trainId}/releases`)).body
    expect(refused).toEqual([])
    expect(train.standing).toBe('made')
    expect(train.cars[0]).toMatchObject({ release: '4.1.1', isThere: true, against: '4.1.0', items: [{ key: 'EMB-1' }] })
    expect(tags(kiln)).toEqual(['v4.1.0', 'v4.1.1'])
    expect(tags(planner)).toHaveLength(1)
    const later = (await post(ines, `${PATH}/${await plan({ name: 'December' })}/releases`)).body
    expect(later.train.cars.map(({ release }: { release: string }) => release)).toEqual(['4.1.1', train.cars[1].release])
    expect(tags(kiln)).toHaveLength(2)
  })

  test('is brought from place to place in its order; what one service is refused for does not keep the others back', async () => {
    const [november] = (await ines(PATH)).body.rows.filter(({ name }: { name: string }) => name === 'November')
    const path = `${PATH}/${november.trainId}`
    expect((await post(wren, `${path}/deployments`, { environment: 'production' })).status).toBe(403)
    // No deployer is there, so that only what is approved by people can be asked for.
    const staging = (await post(rafe, `${path}/deployments`, { environment: 'staging' })).body
    expect(staging.refused.map(({ service }: { service: string }) => service)).toEqual(['kiln', 'planner'])
    expect(staging.refused[0].why).toContain('No deployer is connected')
    const told = (await post(rafe, `${path}/deployments`, { environment: 'staging', isTold: true })).body
    expect(told.refused).toEqual([])
    expect(told.train.cars.map(({ runsIn }: { runsIn: string[] }) => runsIn)).toEqual([['staging'], ['staging']])
    expect((await post(rafe, `${path}/deployments`, { environment: 'production' })).body.refused).toEqual([])
    const board = (await ines('/releases')).body
    const asked = board.services.flatMap(({ deployments }: { deployments: { state: string; service: string }[] }) => deployments)
    const waiting = asked.filter(({ state }: { state: string }) => state === 'asked')
    expect(waiting.map(({ service, state }: { service: string; state: string }) => [service, state])).toEqual([
      ['kiln', 'asked'],
      ['planner', 'asked'],
    ])
    await post(rafe, '/deployments/told', { service: 'kiln', release: '4.1.1', environment: 'production' })
    expect(await read(november.trainId)).toMatchObject({
      standing: 'under-way',
      cars: [{ runsIn: ['production', 'staging'] }, { runsIn: ['staging'] }],
    })
    const release = november.cars[1].release
    await post(rafe, '/deployments/told', { service: 'planner', release, environment: 'production' })
    expect((await read(november.trainId)).standing).toBe('there')
    // Sent there again, nothing is asked for.
    expect((await post(rafe, `${path}/deployments`, { environment: 'production' })).body.refused).toEqual([])
  })

  test('is called off with the reason, changed no more, and goes after all', async () => {
    const trainId = await plan({ name: 'January' })
    const calledOff = await put(ines, `${PATH}/${trainId}/called-off`, { isCalledOff: true, words: 'the kilns are being lined' })
    expect(calledOff.body).toMatchObject({ standing: 'called-off', calledOff: { words: 'the kilns are being lined', by: 'person:ines' } })
    expect((await put(ines, `${PATH}/${trainId}/called-off`, { isCalledOff: true })).status).toBe(409)
    expect((await put(ines, `${PATH}/${trainId}`, aPlan())).body.detail).toContain('called off')
    expect((await post(ines, `${PATH}/${trainId}/releases`)).status).toBe(409)
    expect((await post(rafe, `${PATH}/${trainId}/deployments`, { environment: 'production' })).status).toBe(409)
    expect((await put(ines, `${PATH}/${trainId}/called-off`, { isCalledOff: false })).body.calledOff).toBeNull()
    const changed = await put(ines, `${PATH}/${trainId}`, aPlan({ name: 'Spring', cars: [{ service: 'planner' }], leavesOn: '2027-03-01' }))
    expect(changed.body).toMatchObject({ name: 'Spring', leavesOn: '2027-03-01', cars: [{ service: 'planner' }] })
  })
})

describe('a train that waits', () => {
  const waiting = { name: 'When 2 is done', waitsFor: 'label=step-2', makes: true, cars: [{ service: 'planner' }] }
  const lookAgain = () => lookAtTrains(app.ctx)
  const desk = async (ask: Ask) => (await ask('/desk')).body.waiting.filter(({ why }: { why: string }) => why === 'make')

  test('for items that are not there yet does not leave; then it says which are not merged', async () => {
    const trainId = await plan(waiting)
    await lookAgain()
    expect(await read(trainId)).toMatchObject({ readyAtMs: null, waits: { total: 0, open: 0 } })
    for (const key of ['EMB-1', 'EMB-2']) await ines(`/items/${key}`, { method: 'PATCH', body: { labels: ['step-2'] } })
    await lookAgain()
    expect(await read(trainId)).toMatchObject({ readyAtMs: null, waits: { total: 2, open: 1, items: [{ key: 'EMB-2' }] } })
  })

  test('leaves by itself once all of them are merged, once', async () => {
    const [{ trainId }] = (await ines(PATH)).body.rows.filter(({ name }: { name: string }) => name === waiting.name)
    const before = tags(planner).length
    planner.commit('plan.js', 'b\n', 'A full shelf is full\n\nFixes: EMB-2')
    await look()
    await until('it is merged', async () => (await ines('/items/EMB-2')).body.stage === 'merged')
    await lookAgain()
    await lookAgain()
    const train = await read(trainId)
    expect(train).toMatchObject({ standing: 'made', waits: { total: 2, open: 0 }, heldWhy: null })
    expect(train.readyAtMs).not.toBeNull()
    expect(train.cars[0]).toMatchObject({ items: [{ key: 'EMB-2' }] })
    expect(tags(planner)).toHaveLength(before + 1)
    expect((await ines('/desk')).body.waiting.filter(({ why }: { why: string }) => why === 'make')).toEqual([])
  })

  test('without making anything by itself stands on the desk of those who make releases', async () => {
    const trainId = await plan({ ...waiting, name: 'By hand', makes: false })
    expect(await desk(ines)).toEqual([])
    await lookAgain()
    expect(await desk(ines)).toMatchObject([{ title: 'By hand is ready', detail: 'all that it waits for is merged; 1 release to make' }])
    expect(await desk(rafe)).toEqual([])
    await put(ines, `${PATH}/${trainId}/called-off`, { isCalledOff: true })
    expect(await desk(ines)).toEqual([])
    // Another filter is waited for anew.
    await put(ines, `${PATH}/${trainId}/called-off`, { isCalledOff: false })
    await put(ines, `${PATH}/${trainId}`, { ...waiting, name: 'By hand', makes: false, waitsFor: 'label=step-3' })
    expect(await desk(ines)).toEqual([])
  })

  test('is held with the reason where a release cannot be made, and the desk says so', async () => {
    kiln.commit('heat.js', 'c\n', 'Cool slower')
    await look()
    // Nobody may push there any more.
    writeFileSync(join(kiln.dir, '.git/hooks/pre-receive'), '#!/bin/sh\necho closed for the holidays >&2\nexit 1\n', { mode: 0o755 })
    const trainId = await plan({ ...waiting, name: 'Held', cars: [{ service: 'kiln' }, { service: 'planner' }] })
    await lookAgain()
    const train = await read(trainId)
    expect(train.heldWhy).toContain('kiln: The remote did not take v4.1.2')
    expect(train.cars.map(({ release }: { release: string | null }) => release === null)).toEqual([true, false])
    expect((await desk(ines))[0].detail).toContain('The remote did not take')
    await lookAgain()
    expect(tags(kiln)).toHaveLength(2)
  })
})
