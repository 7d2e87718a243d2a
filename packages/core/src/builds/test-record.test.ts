import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { median } from '#basics/median'
import { shareOf } from '#basics/share'
import { durationChange, failureMessages, flakiness, passesInRow, passesToProve } from './test-record.js'

const failed = (message: string) => ({ outcome: 'failed' as const, durationMs: 1, message })

describe('how often', () => {
  test('the interval is the one of Wilson', () => {
    // 5 of 100: 0.0215 to 0.1118.
    expect(shareOf(5, 100)?.from).toBeCloseTo(0.0215, 3)
    expect(shareOf(5, 100)?.to).toBeCloseTo(0.1118, 3)
    expect(shareOf(0, 10)).toMatchObject({ from: 0, share: 0 })
    expect(shareOf(3, 0)).toBeNull()
  })

  test('skipped runs say nothing of flakiness', () => {
    const outcomes = (['flaky', 'passed', 'skipped', 'failed', 'passed'] as const).map((outcome) => ({ outcome }))
    expect(flakiness(outcomes)).toMatchObject({ count: 1, of: 4 })
    expect(flakiness([{ outcome: 'skipped' }])).toBeNull()
  })

  test('bounds enclose the share and lie between nothing and all', () => {
    fc.assert(
      fc.property(fc.nat(50), fc.integer({ min: 1, max: 50 }), (count, more) => {
        const share = shareOf(count, count + more - 1 || 1)
        if (!share) throw new Error('there were runs')
        expect(share.from).toBeGreaterThanOrEqual(0)
        expect(share.to).toBeLessThanOrEqual(1)
        expect(share.from).toBeLessThanOrEqual(share.share + 1e-12)
        expect(share.to).toBeGreaterThanOrEqual(share.share - 1e-12)
      }),
    )
  })
})

test('failures are told by what they say, without what varies', () => {
  const messages = failureMessages([
    failed('expected 3 to be 4\n at x'),
    { ...failed(''), outcome: 'passed' },
    failed('no relay'),
    failed('expected 9 to be 4'),
  ])
  expect(messages.map(({ count, newestAt }) => [count, newestAt])).toEqual([
    [2, 0],
    [1, 2],
  ])
})

describe('a change of pace', () => {
  const steady = (count: number, ms: number) => Array.from({ length: count }, (_, at) => ms + (at % 5))

  test('is found where it happened, and not for one slow run', () => {
    expect(durationChange([...steady(20, 100), ...steady(20, 180)])).toMatchObject({ at: 20, beforeMs: 102, afterMs: 182 })
    expect(durationChange([...steady(20, 100), 5000, ...steady(20, 100)])).toBeNull()
    expect(durationChange([...steady(20, 100), ...steady(20, 110)])).toBeNull()
    expect(durationChange(steady(8, 100))).toBeNull()
  })

  test('is not found in noise, and is the same in any unit', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 50, max: 150 }), { minLength: 12, maxLength: 60 }),
        fc.integer({ min: 2, max: 1000 }),
        (durations, factor) => {
          const [here, there] = [durationChange(durations), durationChange(durations.map((ms) => ms * factor))]
          expect(there?.at).toBe(here?.at)
          if (here) {
            expect(here.beforeMs).toBe(median(durations.slice(0, here.at)))
            expect(Math.abs(here.afterMs - here.beforeMs)).toBeGreaterThanOrEqual(0.3 * here.beforeMs)
          }
        },
      ),
    )
  })
})

test('so many passes in a row show a mend that a flaky test would have by itself in less than five of a hundred cases', () => {
  expect(passesToProve(0)).toBeNull()
  expect(passesToProve(1)).toBe(1)
  fc.assert(
    fc.property(fc.double({ min: 0.001, max: 0.999, noNaN: true }), (rate) => {
      const needs = passesToProve(rate) ?? 0
      expect((1 - rate) ** needs).toBeLessThanOrEqual(0.05 + 1e-12)
      expect((1 - rate) ** (needs - 1)).toBeGreaterThan(0.05 - 1e-12)
    }),
  )
})

test('passes in a row are counted from the newest, over what was skipped', () => {
  const outcomes = (['passed', 'skipped', 'passed', 'flaky', 'passed'] as const).map((outcome) => ({ outcome }))
  expect(passesInRow(outcomes)).toBe(2)
  expect(passesInRow([])).toBe(0)
})
