import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { latestResults, progressOf, type GivenResult } from './stand.js'
import { parseSteps, printSteps } from './steps-text.js'

const result = (number: number, environment: string, outcome: GivenResult['outcome'], atMs: number, revision = 1): GivenResult => ({
  number,
  environment,
  outcome,
  revision,
  atMs,
})

describe('a plan', () => {
  test('stands as the newest result of each case in each environment says; one of an earlier text leaves it open', () => {
    const results = [
      result(1, 'staging', 'failed', 1),
      result(1, 'staging', 'passed', 2),
      result(2, 'staging', 'blocked', 3),
      result(2, 'kiln', 'passed', 3),
      result(9, 'kiln', 'failed', 4),
    ]
    const cases = [
      { number: 1, revision: 1 },
      { number: 2, revision: 1 },
      { number: 3, revision: 1 },
    ]
    const plan = { cases, environments: ['staging', 'kiln'], results }
    expect(progressOf(plan)).toEqual({ passed: 2, failed: 0, blocked: 1, skipped: 0, open: 3 })
    expect(progressOf({ ...plan, cases: [{ number: 1, revision: 2 }] })).toEqual({ passed: 0, failed: 0, blocked: 0, skipped: 0, open: 2 })
  })

  test('counts every place once, in whatever order results came', () => {
    const some = fc.array(
      fc.record({
        number: fc.integer({ min: 1, max: 4 }),
        environment: fc.constantFrom('a', 'b'),
        outcome: fc.constantFrom('passed' as const, 'failed' as const),
        revision: fc.constant(1),
        atMs: fc.nat(1000),
      }),
    )
    fc.assert(
      fc.property(some, (results) => {
        const distinct = [...new Map(results.map((one) => [one.atMs, one])).values()]
        const plan = { cases: [1, 2, 3].map((number) => ({ number, revision: 1 })), environments: ['a', 'b'] }
        const progress = progressOf({ ...plan, results: distinct })
        expect(Object.values(progress).reduce((sum, count) => sum + count, 0)).toBe(6)
        expect(progressOf({ ...plan, results: distinct.toReversed() })).toEqual(progress)
        expect(latestResults(distinct).size).toBe(new Set(distinct.map(({ number, environment }) => `${number}${environment}`)).size)
      }),
    )
  })
})

describe('steps as text', () => {
  test('are a line each, with what is expected behind an arrow', () => {
    expect(parseSteps('1. Open the lid => The heater stops\n\nWait\n  ten minutes => It stays off => so')).toEqual([
      { do: 'Open the lid', expect: 'The heater stops' },
      { do: 'Wait\nten minutes', expect: 'It stays off => so' },
    ])
  })

  test('come back as they were', () => {
    const words = fc.stringMatching(/^[A-Za-zÄ.][A-Za-z ,.]{0,20}[a-z]$/)
    fc.assert(
      fc.property(fc.array(fc.record({ do: words, expect: fc.oneof(words, fc.constant('')) }), { maxLength: 5 }), (steps) => {
        expect(parseSteps(printSteps(steps))).toEqual(steps.map((step) => ({ do: step.do.trim(), expect: step.expect.trim() })))
      }),
    )
  })
})
