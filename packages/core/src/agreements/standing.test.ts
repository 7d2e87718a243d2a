import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { standingOf, type Agreed } from './standing.js'

const PEOPLE = ['ines', 'rafe']
const at = (revisions: Record<string, number>) => new Map(Object.entries(revisions))

test('a set is agreed when everybody agreed to each as it is now; a newer text lets that fall', () => {
  const verdicts: Agreed[] = [
    { key: 'SAF-1', personId: 'ines', revision: 1 },
    { key: 'SAF-1', personId: 'rafe', revision: 1 },
    { key: 'SAF-2', personId: 'ines', revision: 3 },
  ]
  const before = standingOf({ keys: ['SAF-1', 'SAF-2'], people: PEOPLE, revisions: at({ 'SAF-1': 1, 'SAF-2': 3 }) }, verdicts)
  expect(before.isAgreed).toBe(false)
  expect(before.rows[1]).toEqual({ key: 'SAF-2', agreedBy: ['ines'], outdatedBy: [], waitsFor: ['rafe'] })
  const all = [...verdicts, { key: 'SAF-2', personId: 'rafe', revision: 3 }]
  const done = standingOf({ keys: ['SAF-1', 'SAF-2'], people: PEOPLE, revisions: at({ 'SAF-1': 1, 'SAF-2': 3 }) }, all)
  expect(done).toMatchObject({
    isAgreed: true,
    agreedBy: new Map([
      ['ines', 2],
      ['rafe', 2],
    ]),
  })
  const after = standingOf({ keys: ['SAF-1', 'SAF-2'], people: PEOPLE, revisions: at({ 'SAF-1': 2, 'SAF-2': 3 }) }, all)
  expect(after.isAgreed).toBe(false)
  expect(after.rows[0]).toEqual({ key: 'SAF-1', agreedBy: [], outdatedBy: PEOPLE, waitsFor: [] })
})

test('what is not there any more is asked of nobody; a set of nothing is agreed by nobody', () => {
  const gone = standingOf({ keys: ['SAF-9'], people: PEOPLE, revisions: at({}) }, [])
  expect(gone).toEqual({
    rows: [],
    isAgreed: false,
    agreedBy: new Map([
      ['ines', 0],
      ['rafe', 0],
    ]),
  })
})

test('everybody stands in just one of the three places, whatever was said in whatever order', () => {
  const key = fc.constantFrom('A-1', 'A-2', 'A-3')
  const verdict = fc.record({ key, personId: fc.constantFrom(...PEOPLE, 'mara'), revision: fc.integer({ min: 1, max: 3 }) })
  fc.assert(
    fc.property(fc.array(verdict), fc.dictionary(key, fc.integer({ min: 1, max: 3 })), (verdicts, revisions) => {
      const { rows, isAgreed } = standingOf({ keys: ['A-1', 'A-2', 'A-3'], people: PEOPLE, revisions: at(revisions) }, verdicts)
      expect(rows.map((row) => row.key)).toEqual(['A-1', 'A-2', 'A-3'].filter((one) => one in revisions))
      for (const row of rows) expect([...row.agreedBy, ...row.outdatedBy, ...row.waitsFor].sort()).toEqual([...PEOPLE].sort())
      expect(isAgreed).toBe(rows.length > 0 && rows.every((row) => row.outdatedBy.length + row.waitsFor.length === 0))
    }),
  )
})
