import { describe, expect, test } from '@jest/globals'
import { PROBLEM_CATALOGUE } from '@dystracer/core/basics/problem-catalogue'
import fc from 'fast-check'
import { age, axisDate, fullDate, plural, shortDate } from './format'
import { fieldProblem, PROBLEM_TEXT, problemText } from './problem-text'

const at = (text: string) => new Date(text).getTime()
const NOW = at('2026-11-24T14:00:00')

describe('dates', () => {
  test.each([
    ['2026-11-24T09:14:00', '09:14'],
    ['2026-11-23T22:00:00', 'Mon 22:00'],
    ['2026-11-18T08:00:00', 'Wed 08:00'],
    ['2026-11-17T08:00:00', '17 Nov'],
    ['2026-11-30T08:00:00', 'Mon 08:00'],
    ['2025-11-24T09:14:00', '24 Nov 2025'],
  ])('of %s are written %s', (given, written) => {
    expect(shortDate(at(given), NOW)).toBe(written)
  })

  test('on an axis are the clock within two days, else the day', () => {
    const hourLater = NOW + 3_600_000
    const axis = { fromMs: NOW, toMs: hourLater }
    expect([axisDate(NOW, axis), axisDate(hourLater, axis), axisDate(NOW, { ...axis, toMs: NOW + 30 * 86_400_000 })]).toEqual([
      '24 Nov 14:00',
      '15:00',
      '24 Nov',
    ])
  })

  test('are written out in full on demand', () => {
    expect(fullDate(at('2026-11-24T09:04:05'))).toBe('Tuesday 24 November 2026 at 09:04:05')
  })

  test.each([
    [0, '0 min'],
    [59 * 60_000, '59 min'],
    [60 * 60_000, '1 h'],
    [47 * 3_600_000, '47 h'],
    [48 * 3_600_000, '2 d'],
    [-5000, '0 min'],
  ])('an age of %d ms is %s', (ms, written) => {
    expect(age(NOW - ms, NOW)).toBe(written)
  })

  test('an older thing is never written as a younger age', () => {
    const minutesOf = (text: string) => Number.parseInt(text, 10) * ({ min: 1, h: 60, d: 1440 }[text.split(' ')[1] ?? ''] ?? Number.NaN)
    fc.assert(
      fc.property(fc.nat(1e9), fc.nat(1e9), (one, other) => {
        const [young, old] = [Math.min(one, other), Math.max(one, other)]
        expect(minutesOf(age(NOW - young, NOW))).toBeLessThanOrEqual(minutesOf(age(NOW - old, NOW)))
        expect(minutesOf(age(NOW - old, NOW)) * 60_000).toBeLessThanOrEqual(old)
      }),
    )
  })

  test('one thing is one', () => {
    expect([plural(1, 'item'), plural(0, 'item'), plural(2, 'person', 'people')]).toEqual(['1 item', '0 items', '2 people'])
  })
})

describe('what a person reads when something failed', () => {
  test('stands there for every problem that the server knows', () => {
    for (const code of Object.keys(PROBLEM_CATALOGUE)) expect(PROBLEM_TEXT).toHaveProperty([code], expect.stringMatching(/^[A-Z].+\.$/))
  })

  test('is the detail, else the words of the code, with what is wrong of each field behind it', () => {
    const problem = { type: '/problems/conflict', title: 'Conflict', status: 409, code: 'conflict' as const }
    expect(problemText(problem)).toBe(PROBLEM_TEXT.conflict)
    expect(problemText({ ...problem, detail: 'EMB-4 is a part of EMB-5.' })).toBe('EMB-4 is a part of EMB-5.')
    expect(problemText({ ...problem, code: 'invalid-input', fields: { title: 'A title is needed', due: 'No such day' } })).toBe(
      `${PROBLEM_TEXT['invalid-input']} A title is needed No such day`,
    )
    expect(fieldProblem({ ...problem, fields: { title: 'A title is needed' } }, 'title')).toBe('A title is needed')
    expect(fieldProblem(problem, 'title')).toBeUndefined()
  })

  test('is something for anything that may come', () => {
    for (const given of [undefined, {}, { code: 'a-new-one' }, { code: 'a-new-one', title: 'Of tomorrow' }])
      expect(problemText(given)).toMatch(/\w{3}/)
    expect(problemText({ code: 'a-new-one', title: 'Of tomorrow' })).toBe('Of tomorrow')
  })
})
