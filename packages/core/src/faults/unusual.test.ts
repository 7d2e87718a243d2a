import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { comparableAttributes, unusualValues, ValueCounter } from './unusual.js'

const counted = (rows: [attribute: string, value: string, times: number][]) => {
  const counter = new ValueCounter()
  for (const [attribute, value, times] of rows) counter.add(attribute, value, times)
  return counter.counts
}

test('only what tells kinds apart is compared', () => {
  expect(
    comparableAttributes({
      firmware: '2.1',
      shelf: 3,
      'kiln.hot': true,
      'user.id': 'x',
      'http.request.method': 'GET',
      'http.duration': 3,
      share: 0.5,
      note: 'n'.repeat(61),
      'exception.type': 'E',
      'service.version': '1',
      nested: { a: 1 },
      empty: '',
    }),
  ).toEqual([
    ['firmware', '2.1'],
    ['shelf', '3'],
    ['kiln.hot', 'true'],
    ['http.request.method', 'GET'],
  ])
})

describe('what is unusual', () => {
  test('“all from firmware 2.1, which carries 8 % of traffic” is seen, with its interval; what is as elsewhere is not', () => {
    const own = counted([
      ['firmware', '2.1', 40],
      ['studio', 'Quayside', 20],
      ['studio', 'Old Mill', 20],
    ])
    const base = counted([
      ['firmware', '2.1', 80],
      ['firmware', '2.0', 920],
      ['studio', 'Quayside', 500],
      ['studio', 'Old Mill', 500],
    ])
    const [first, ...others] = unusualValues(own, base)
    expect(others).toEqual([])
    expect(first).toMatchObject({ attribute: 'firmware', value: '2.1', own: 40, ownOf: 40, base: 80, baseOf: 1000 })
    expect(first?.ratio).toBeCloseTo(12.3, 1)
    expect(first?.from).toBeGreaterThan(9.5)
    expect(first?.to).toBeLessThan(16)
  })

  test('fewer than five say nothing; an attribute that nothing else has cannot be compared; a value that nothing else has can', () => {
    expect(unusualValues(counted([['a', 'x', 4]]), counted([['a', 'y', 100]]))).toEqual([])
    expect(unusualValues(counted([['a', 'x', 9]]), counted([['b', 'y', 100]]))).toEqual([])
    expect(unusualValues(counted([['a', 'x', 9]]), counted([['a', 'y', 100]]))[0]).toMatchObject({ value: 'x', base: 0 })
  })

  test('bounds enclose the ratio; more of the same makes them narrower', () => {
    const number = fc.integer({ min: 5, max: 200 })
    fc.assert(
      fc.property(number, number, number, number, (hit, miss, seen, unseen) => {
        const rows = (times: number) =>
          unusualValues(
            counted([
              ['a', 'x', hit * times],
              ['a', 'y', miss * times],
            ]),
            counted([
              ['a', 'x', seen * times],
              ['a', 'y', unseen * times],
            ]),
          ).find((row) => row.value === 'x')
        const [one, ten] = [rows(1), rows(10)]
        if (!one) return
        expect(one.from).toBeLessThan(one.ratio)
        expect(one.to).toBeGreaterThan(one.ratio)
        expect(ten).toBeDefined()
        expect((ten?.to ?? 0) / (ten?.from ?? 1)).toBeLessThan(one.to / one.from)
      }),
    )
  })
})
