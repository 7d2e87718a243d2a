import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { kindOfFinding } from './finding.js'
import { beyondQuality, broughtInWords, NO_LIMITS, parseQuality, qualityInWords, type QualityLimits } from './quality-sentence.js'

const limitsOf = (text: string): QualityLimits => {
  const read = parseQuality(text)
  if ('why' in read) throw new Error(read.why)
  return read.limits
}
const some = (max: number) => fc.option(fc.nat(max), { nil: null })
const anyLimits = fc.record({
  bugs: some(50),
  weaknesses: some(50),
  smells: some(50),
  findings: some(50),
  debtMinutes: some(5000),
  changedCoverage: some(100),
  coverageFall: fc.option(
    fc.nat(1000).map((tenths) => tenths / 10),
    { nil: null },
  ),
})
const anyMeasures = fc.record({
  brought: fc.option(fc.record({ bug: fc.nat(60), weakness: fc.nat(60), smell: fc.nat(60) }), { nil: null }),
  debtMinutes: fc.integer({ min: -6000, max: 6000 }),
  changedCoverage: some(100),
  coverageFall: fc.option(fc.integer({ min: -100, max: 100 }), { nil: null }),
})

describe('the quality that a change keeps to, as a sentence', () => {
  test('says counts of what is new, minutes, and coverage, in any order', () => {
    expect(limitsOf('0 new bugs, 2 new smells, debt +35 min')).toEqual({ ...NO_LIMITS, bugs: 0, smells: 2, debtMinutes: 35 })
    expect(limitsOf('Coverage of changed lines 80%; at most 1 new weakness; no new findings')).toEqual({
      ...NO_LIMITS,
      changedCoverage: 80,
      weaknesses: 1,
      findings: 0,
    })
    expect(limitsOf('debt +1 h 30 min, coverage -0.5 %')).toEqual({ ...NO_LIMITS, debtMinutes: 90, coverageFall: 0.5 })
    expect(limitsOf('no debt')).toEqual({ ...NO_LIMITS, debtMinutes: 0 })
    expect(limitsOf(' , ')).toEqual(NO_LIMITS)
  })

  test.each([
    ['0 new dragons', /no dragons/],
    ['0 bugs', /“0 bugs”: it is not understood/],
    ['debt +a bit', /hours and minutes/],
    ['debt +', /hours and minutes/],
    ['coverage of changed lines 120 %', /all of them/],
    ['0 new bugs, 1 new bug', /said twice/],
    ['99999 new smells', /asks for nothing/],
  ])('%s is refused, and says which part and what to say instead', (text, why) => {
    expect(parseQuality(text)).toEqual({ why: expect.stringMatching(why) })
  })

  test('a sentence made of limits says those limits', () => {
    fc.assert(fc.property(anyLimits, (limits) => expect(limitsOf(qualityInWords(limits))).toEqual(limits)))
  })

  test('whoever asks for less is never refused more', () => {
    const eased = fc.tuple(anyLimits, fc.constantFrom(...(Object.keys(NO_LIMITS) as (keyof QualityLimits)[])), anyMeasures)
    fc.assert(
      fc.property(eased, ([limits, name, measures]) => {
        const before = beyondQuality(limits, measures).length
        expect(beyondQuality({ ...limits, [name]: null }, measures).length).toBeLessThanOrEqual(before)
      }),
    )
  })

  test('what is beyond it is said with what is allowed; what nobody reported does not hold', () => {
    const measures = { brought: { bug: 1, weakness: 0, smell: 3 }, debtMinutes: 60, changedCoverage: 50, coverageFall: 1.2 }
    expect(
      beyondQuality(limitsOf('0 new bugs, 2 new smells, debt +35 min, coverage of changed lines 80 %, coverage -1 %'), measures),
    ).toEqual([
      '1 new bug, none is allowed',
      '3 new smells, 2 are allowed',
      'debt +1 h, +35 min is allowed',
      'tests run 50 % of its changed lines, 80 % is asked for',
      'coverage fell by 1.2 %, 1 % is allowed',
    ])
    expect(beyondQuality(limitsOf('1 new bug, 3 new smells, 4 new findings, debt +1 h'), measures)).toEqual([])
    const untold = { brought: null, debtMinutes: 0, changedCoverage: null, coverageFall: null }
    expect(beyondQuality(limitsOf('5 new bugs, coverage of changed lines 1 %, coverage -99 %'), untold)).toHaveLength(3)
    expect(beyondQuality(NO_LIMITS, untold)).toEqual([])
  })

  test('what a change brings reads like the sentence', () => {
    expect(broughtInWords({ brought: { bug: 1, weakness: 0, smell: 2 }, debtMinutes: 50 })).toBe('1 new bug, 2 new smells, debt +50 min')
    expect(broughtInWords({ brought: { bug: 0, weakness: 1, smell: 0 }, debtMinutes: 60 })).toBe('1 new weakness, debt +1 h')
    expect(broughtInWords({ brought: { bug: 0, weakness: 0, smell: 0 }, debtMinutes: -10 })).toBe('nothing new is found, debt −10 min')
    expect(broughtInWords({ brought: null, debtMinutes: 0 })).toBe('no report of findings came')
  })
})

test('the kind of a finding comes of the tags of its rule before its level', () => {
  expect(kindOfFinding('error')).toBe('bug')
  expect(kindOfFinding('warning')).toBe('smell')
  expect(kindOfFinding('note', ['correctness'])).toBe('bug')
  expect(kindOfFinding('error', ['style'])).toBe('smell')
  expect(kindOfFinding('warning', ['correctness', 'security'])).toBe('weakness')
  expect(kindOfFinding('warning', ['external/cwe/cwe-079'])).toBe('weakness')
})
