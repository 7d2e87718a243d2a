import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { chapterNumbers, inDocumentOrder } from './document-order.js'

const row = (key: string, parent: string | null, position: number) => ({ key, parent, position })

describe('document order', () => {
  test('what is written later stands below what it belongs to', () => {
    const rows = [row('TR-1', null, 1), row('TR-2', null, 2), row('TR-3', 'TR-1', 3), row('TR-4', 'TR-3', 4), row('TR-5', 'TR-1', 5)]
    expect(inDocumentOrder(rows).map(({ key }) => key)).toEqual(['TR-1', 'TR-3', 'TR-4', 'TR-5', 'TR-2'])
  })

  test('nothing is lost or doubled, whatever the parents say, circles too', () => {
    const any = fc.array(fc.record({ parent: fc.option(fc.integer({ min: 0, max: 12 })), position: fc.integer({ min: 0, max: 4 }) }), {
      maxLength: 10,
    })
    fc.assert(
      fc.property(any, (made) => {
        const rows = made.map(({ parent, position }, at) => row(`TR-${at}`, parent === null ? null : `TR-${parent}`, position))
        const keys = inDocumentOrder(rows).map(({ key }) => key)
        expect([...keys].sort()).toEqual(rows.map(({ key }) => key).sort())
      }),
    )
  })
})

test('chapters are numbered by their order and nesting; what is no heading has no number', () => {
  const row = (key: string, parent: string | null, isHeading = true) => ({ key, parent, isHeading })
  const rows = [row('A', null), row('a1', 'A', false), row('B', 'A'), row('C', 'A'), row('c1', 'C'), row('D', null), row('E', 'a1')]
  expect([...chapterNumbers(rows)]).toEqual([
    ['A', '1'],
    ['B', '1.1'],
    ['C', '1.2'],
    ['c1', '1.2.1'],
    ['D', '2'],
    ['E', '3'],
  ])
})
