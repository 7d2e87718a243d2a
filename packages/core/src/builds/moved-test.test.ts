import { describe, expect, test } from '@jest/globals'
import { formerName } from './moved-test.js'
import { byCondition, type PlacedOutcome } from './test-record.js'

const named = (text: string) => {
  const [suite = '', name = ''] = text.split('/')
  return { suite, name }
}
const former = (of: string, gone: string[], come: string[]) => formerName(named(of), { gone: gone.map(named), come: come.map(named) })

describe('a test that was moved or renamed', () => {
  test.each([
    ['moved', 'door/closes', ['lid/closes'], ['door/closes'], named('lid/closes')],
    ['renamed', 'lid/shuts', ['lid/closes', 'probe/reads'], ['lid/shuts'], named('lid/closes')],
    ['moved, though another of its suite went', 'door/closes', ['lid/closes', 'door/opens'], ['door/closes'], named('lid/closes')],
    ['neither: two of its name went', 'door/closes', ['lid/closes', 'hatch/closes'], ['door/closes'], null],
    ['neither: two of its suite came', 'lid/shuts', ['lid/closes'], ['lid/shuts', 'lid/opens'], null],
    ['neither: nothing went', 'lid/shuts', [], ['lid/shuts'], null],
  ])('%s', (_, of, gone, come, expected) => {
    expect(former(of, gone, come)).toEqual(expected)
  })
})

describe('what the outcomes of a test hang on', () => {
  const HOUR_MS = 3_600_000
  const runs = (count: number, more: Partial<PlacedOutcome>): PlacedOutcome[] =>
    Array.from({ length: count }, () => ({ outcome: 'passed', host: null, position: null, atMs: HOUR_MS, ...more }))

  test('the machine on which it fails stands out, the others do not', () => {
    const found = byCondition([
      ...runs(20, { host: 'a' }),
      ...runs(20, { host: 'b' }),
      ...runs(4, { host: 'c' }),
      ...runs(9, { host: 'c', outcome: 'failed' }),
      ...runs(3, { host: 'c', outcome: 'skipped' }),
      ...runs(2, { host: 'd', outcome: 'failed' }),
    ])
    expect(found.map(({ by, value, share, standsOut }) => [by, value, share.count, share.of, standsOut])).toEqual([
      ['machine', 'c', 9, 13, true],
      ['machine', 'a', 0, 20, false],
      ['machine', 'b', 0, 20, false],
    ])
  })

  test('by time of day and by its place in the report; what has one value alone is not told', () => {
    const found = byCondition([
      ...runs(10, { atMs: 2 * HOUR_MS, outcome: 'flaky', position: 9 }),
      ...runs(30, { atMs: 26 * HOUR_MS + 12 * HOUR_MS, position: 2 }),
      ...runs(10, { atMs: 14 * HOUR_MS, position: 5 }),
    ])
    expect(found.map(({ by, value, standsOut }) => `${by} ${value} ${standsOut}`)).toEqual([
      'hours 00–06 h UTC true',
      'hours 12–18 h UTC false',
    ])
    const placed = [...runs(20, { position: 1 }), ...runs(1, { position: 4 }), ...runs(20, { position: 8, outcome: 'failed' })]
    expect(byCondition(placed).map(({ by, value }) => `${by} ${value}`)).toEqual(['order late', 'order early'])
    expect(byCondition(runs(50, { outcome: 'failed' }))).toEqual([])
  })
})
