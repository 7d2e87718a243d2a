import { describe, expect, test } from '@jest/globals'
import { makeRandom } from '../random.mjs'
import { cutPower, Disk } from './power-cut.mjs'

describe('a server whose power is cut', () => {
  test('has all that it answered, whatever of the unsynced blocks the disk kept; verify finds it sound', async () => {
    const { losses, answered, records } = await cutPower({ cuts: 6, seconds: 3, seed: 7 })
    expect(losses).toEqual([])
    // It was at work all the while: a trial of nothing proves nothing.
    expect(answered).toBeGreaterThan(60)
    expect(records).toBeGreaterThan(answered)
  })

  test('on a disk that forgets what it was asked to keep, the trial sees the loss', async () => {
    const { losses } = await cutPower({ cuts: 3, seconds: 2, seed: 7, isDeaf: true })
    expect(losses.length).toBeGreaterThan(0)
  })
})

describe('a disk after a cut', () => {
  const write = (path, text, offset = 0) => ({ op: 'W', path, offset, data: Buffer.from(text) })
  const create = (path) => ({ op: 'C', path, offset: 0, data: Buffer.alloc(0) })
  const sync = (path) => ({ op: 'S', path, offset: 0, data: Buffer.alloc(0) })
  /** The names that are there after each of many cuts, and what the file `a` holds. */
  const afterCuts = (steps) => {
    const disk = new Disk()
    for (const step of steps) disk.take(step)
    const random = makeRandom(1)
    return Array.from({ length: 60 }, () => disk.afterCut(random))
  }

  test('has what was synced, and of the rest any part', () => {
    const states = afterCuts([create('/d/a'), write('/d/a', 'kept'), sync('/d/a'), write('/d/a', 'lost?', 4)])
    expect(new Set(states.map((names) => names.get('/d/a').toString()))).toEqual(new Set(['kept', 'keptlost?']))
  })

  test('a file that no sync reached may be missing or empty; a new name holds once its folder was synced', () => {
    const unsynced = afterCuts([create('/d/a'), write('/d/a', 'x')])
    expect(new Set(unsynced.map((names) => names.get('/d/a')?.toString()))).toEqual(new Set([undefined, '', 'x']))
    const moved = [create('/d/a'), write('/d/a', 'x'), sync('/d/a'), { op: 'R', path: '/d/a', offset: 0, data: Buffer.from('/d/b') }]
    expect(new Set(afterCuts(moved).map((names) => [...names.keys()].join()))).toEqual(new Set(['/d/a', '/d/b']))
    expect(new Set(afterCuts([...moved, sync('/d')]).map((names) => [...names.keys()].join()))).toEqual(new Set(['/d/b']))
  })
})
