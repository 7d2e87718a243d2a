import { expect, jest, test } from '@jest/globals'
import { Jobs } from './jobs.js'

const logged: string[] = []
const log = { error: (_facts: object, words: string) => void logged.push(words) } as never
const later = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))

test('rounds of one job never overlap, however long one takes', async () => {
  const jobs = new Jobs(log)
  let under = 0
  let most = 0
  let rounds = 0
  jobs.every({
    name: 'a slow round',
    everyMs: 1,
    run: async () => {
      most = Math.max(most, ++under)
      await later(5)
      under--
      rounds++
    },
  })
  while (rounds < 4) await later(2)
  await jobs.stop()
  expect([most, under]).toEqual([1, 0])
})

test('a failure is logged, and the next round comes all the same; one that is dealt with is not logged', async () => {
  const jobs = new Jobs(log)
  logged.length = 0
  let rounds = 0
  jobs.every({
    name: 'what fails',
    everyMs: 1,
    run: () => {
      rounds++
      throw new Error(rounds === 1 ? 'expected' : 'a surprise')
    },
    onTrouble: (error) => error instanceof Error && error.message === 'expected',
  })
  while (rounds < 3) await later(2)
  await jobs.stop()
  expect(logged.length).toBe(rounds - 1)
  expect(logged[0]).toContain('what fails failed')
})

test('a stop waits for what is under way and begins nothing after it; an ended job has no further round', async () => {
  const jobs = new Jobs(log)
  let isDone = false
  const run = jest.fn(async () => {
    await later(20)
    isDone = true
  })
  const end = jobs.every({ name: 'ended', everyMs: 1, run: () => expect(true).toBe(false) })
  end()
  jobs.every({ name: 'under way', everyMs: 1, run })
  while (run.mock.calls.length === 0) await later(1)
  await jobs.stop()
  expect(isDone).toBe(true)
  await later(10)
  expect(run).toHaveBeenCalledTimes(1)
})
