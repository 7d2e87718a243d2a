import { EventEmitter } from 'node:events'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals'
import { OPERATIONS } from '@dystracer/core/contract/operations'
import type { Operation } from '@dystracer/core/people/operation'
import type { Who } from '@dystracer/core/people/who'
import { Readers, readersSlot } from '#platform/http/readers'
import { startApp, until, type App, type Ask } from './app-harness.js'

let app: App
let ines: Ask
beforeAll(async () => {
  app = await startApp()
  ines = await app.asks('ines')
  for (const title of ['Relay stays closed', 'Planner rounds twice', 'Probe drifts'])
    await ines('/items', { method: 'POST', body: { title, component: 'Kiln control' } })
  await app.ctx.use(readersSlot).warm()
})
afterAll(() => app.stop())

/** Says that everything that may take long took long of late, or took none. */
function noteAll(tookMs: number): void {
  const readers = app.ctx.use(readersSlot)
  for (const declared of Object.values(OPERATIONS) as Operation[])
    if (declared.mayTakeLong) for (let turn = 0; turn < 30; turn++) readers.noteTaken(declared, tookMs)
}
beforeEach(() => noteAll(0))

const PATHS = [
  '/items?filter=open&sort=newest',
  '/items?filter=relay&sort=best',
  '/items-counts?filter=open&groupBy=component',
  '/items-outline?filter=open',
  '/projects/EMB/triage-weeks',
  '/projects/EMB/gaps',
  '/places',
  '/desk',
]

describe('what has come to take long', () => {
  test.each(PATHS)('%s is answered beside the main thread as on it', async (path) => {
    const here = await ines(path)
    noteAll(1000)
    const there = await ines(path)
    expect([there.status, there.headers.get('content-type')]).toEqual([200, here.headers.get('content-type')])
    expect(there.body).toEqual(here.body)
    expect(app.ctx.threads.list().find(({ name }) => name === 'reading 1')).toMatchObject({ trouble: null })
  })

  test('sees what was written just before, and shows nobody more than they may see', async () => {
    noteAll(1000)
    const { key } = (await ines('/items', { method: 'POST', body: { title: 'Written just now', isConfidential: true } })).body
    const titles = async (ask: Ask) => (await ask('/items?filter=just')).body.rows.map((row: { key: string }) => row.key)
    expect(await titles(ines)).toEqual([key])
    expect(await titles(await app.asks('wren'))).toEqual([])
  })

  test('is refused there in the same words', async () => {
    const here = await ines('/items?filter=owner%3A(')
    noteAll(1000)
    const there = await ines('/items?filter=owner%3A(')
    expect(there.status).toBe(400)
    expect({ ...there.body, requestId: '' }).toEqual({ ...here.body, requestId: '' })
  })

  test('comes back to the main thread once it takes little', async () => {
    const readers = app.ctx.use(readersSlot)
    noteAll(1000)
    for (let turn = 0; turn < 40; turn++) await ines('/items?filter=open')
    expect(readers.isLong(OPERATIONS.listItems)).toBe(false)
  })
})

describe('until a thread is there', () => {
  test('what takes long is answered where it always was', async () => {
    const readers = new Readers(app.ctx)
    readers.noteTaken(OPERATIONS.listItems, 1000)
    expect(readers.isLong(OPERATIONS.listItems)).toBe(false)
    await until('the threads are there', () => readers.isLong(OPERATIONS.listItems))
  })
})

describe('a thread that reads', () => {
  const asked = (query: object) => ({ who: { actor: 'token:t', seesAll: true } as unknown as Who, params: {}, query })

  test('is ended past its budget, says so, and reads on', async () => {
    const readers = new Readers(app.ctx, { budgetMs: 1 })
    await readers.warm()
    await expect(readers.read(OPERATIONS.listItems, asked({ filter: 'open' }), new EventEmitter() as never)).rejects.toMatchObject({
      code: 'took-too-long',
      headers: { 'retry-after': '30' },
    })
    const patient = new Readers(app.ctx, { budgetMs: 20_000 })
    await patient.warm()
    await expect(patient.read(OPERATIONS.listItems, asked({ filter: 'nonsense:(' }), new EventEmitter() as never)).rejects.toMatchObject({
      code: 'filter-not-understood',
    })
    expect(app.ctx.threads.troubles()).toEqual({})
  })

  test('is not asked for whoever went away while they waited', async () => {
    const readers = new Readers(app.ctx)
    await readers.warm()
    const read = (response: EventEmitter) => readers.read(OPERATIONS.listItems, asked({ filter: 'nonsense:(' }), response as never)
    const codeOf = (work: Promise<string>) => work.catch((error: { code: string }) => error.code)
    const running = Array.from({ length: 8 }, () => codeOf(read(new EventEmitter())))
    const gone = new EventEmitter()
    const left = read(gone)
    gone.emit('close')
    await expect(left).rejects.toMatchObject({ code: 'busy', message: 'Whoever asked has gone.' })
    expect(new Set(await Promise.all(running))).toEqual(new Set(['filter-not-understood']))
  })
})
