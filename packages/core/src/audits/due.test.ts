import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { isReportDue } from './due.js'

const at = (text: string) => Date.parse(`${text}T12:00:00Z`)

test.each([
  ['never', null, '2026-11-30', false],
  ['week', null, '2026-11-30', true],
  ['week', '2026-11-29', '2026-11-30', true],
  ['week', '2026-11-30', '2026-12-05', false],
  ['month', '2026-11-01', '2026-11-30', false],
  ['month', '2026-11-30', '2026-12-01', true],
  ['month', '2026-01-01', '2026-12-01', true],
] as const)('each %s, last %s, on %s: %s', (every, last, now, isDue) => {
  expect(isReportDue(every, last === null ? null : at(last), at(now))).toBe(isDue)
})

test('one that was just kept is not due, whenever that was', () => {
  fc.assert(
    fc.property(
      fc.constantFrom('week' as const, 'month' as const),
      fc.date({ min: new Date(0), max: new Date(4e12), noInvalidDate: true }),
      (every, day) => {
        expect(isReportDue(every, day.getTime(), day.getTime())).toBe(false)
        expect(isReportDue(every, day.getTime(), day.getTime() + 32 * 86_400_000)).toBe(true)
      },
    ),
  )
})
