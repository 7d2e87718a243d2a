import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { DOCUMENT_MOVES, placeAfterMove, titleFrom, type DocumentPlace } from './document-moves.js'
import { inDocumentOrder } from './document-order.js'

interface Row {
  key: string
  parent: string | null
  position: number
}
/** Rows as they stand after a place was taken, as the server does it. */
function placed(rows: readonly Row[], key: string, { parent, before }: DocumentPlace): Row[] {
  const level = rows.filter((row) => row.parent === parent && row.key !== key).map((row) => row.key)
  const at = before === null ? level.length : level.indexOf(before)
  const order = [...level.slice(0, at), key, ...level.slice(at)]
  const moved = rows.map((row) => (row.key === key ? { ...row, parent } : row))
  return inDocumentOrder(moved.map((row) => (order.includes(row.key) ? { ...row, position: order.indexOf(row.key) } : row)))
}
const shape = (rows: readonly Row[]) => rows.map(({ key, parent }) => `${parent ?? ''}/${key}`)
const DOCUMENT = inDocumentOrder([
  { key: 'A', parent: null, position: 0 },
  { key: 'B', parent: 'A', position: 1 },
  { key: 'C', parent: 'A', position: 2 },
  { key: 'D', parent: 'A', position: 3 },
  { key: 'E', parent: null, position: 4 },
])

describe('a move in the document', () => {
  test.each([
    ['C', 'in', { parent: 'B', before: null }],
    ['B', 'in', null],
    ['C', 'out', { parent: null, before: 'E' }],
    ['A', 'out', null],
    ['C', 'up', { parent: 'A', before: 'B' }],
    ['B', 'up', null],
    ['B', 'down', { parent: 'A', before: 'D' }],
    ['C', 'down', { parent: 'A', before: null }],
    ['E', 'down', null],
    ['gone', 'up', null],
  ] as const)('%s %s', (key, move, place) => {
    expect(placeAfterMove(DOCUMENT, key, move)).toEqual(place)
  })

  test('loses no line, and is taken back by its opposite', () => {
    const document = fc
      .array(fc.nat(6), { minLength: 2, maxLength: 9 })
      .map((parents) =>
        inDocumentOrder(
          parents.map((parent, at): Row => ({ key: `K${at}`, parent: at === 0 || parent >= at ? null : `K${parent}`, position: at })),
        ),
      )
    fc.assert(
      fc.property(document, fc.nat(8), fc.constantFrom(...DOCUMENT_MOVES), (rows, pick, move) => {
        const { key } = rows[pick % rows.length] as Row
        const place = placeAfterMove(rows, key, move)
        if (place === null) return
        const after = placed(rows, key, place)
        expect(new Set(after.map((row) => row.key))).toEqual(new Set(rows.map((row) => row.key)))
        const back = { in: 'out', up: 'down', down: 'up', out: null }[move] as (typeof DOCUMENT_MOVES)[number] | null
        if (back === null) return
        const taken = placeAfterMove(after, key, back)
        expect(taken && shape(placed(after, key, taken))).toEqual(shape(rows))
      }),
    )
  })
})

describe('a title from a sentence', () => {
  test.each([
    ['The door shall stay locked.', 'The door shall stay locked'],
    ['**Heat** shall stop; the fan runs on.', 'Heat shall stop'],
    ['Within 2.5 s the relay shall open. Then it stays.', 'Within 2.5 s the relay shall open'],
    ['one line\nand another', 'one line'],
  ])('%j is called %j', (text, title) => {
    expect(titleFrom(text)).toBe(title)
  })

  test('is short, and empty only for a text without words', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 300 }), (text) => {
        const title = titleFrom(text)
        expect(title.length).toBeLessThanOrEqual(72)
        expect(title.includes('\n')).toBe(false)
        if (/^\s*[a-z]/i.test(text)) expect(title).not.toBe('')
      }),
    )
  })
})
