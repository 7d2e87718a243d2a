import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { changesOfJson, changesOfTable, NoMeaning } from './meaning.js'

const json = (before: unknown, after: unknown) => changesOfJson(JSON.stringify(before), JSON.stringify(after, null, 2))
const said = (changes: readonly { at: string; before: string | null; after: string | null }[]) =>
  changes.map(({ at, before, after }) => `${at}: ${before ?? '-'} > ${after ?? '-'}`)

describe('JSON', () => {
  test('is compared member by member, whatever its spacing and order', () => {
    expect(said(json({ a: 1, b: { c: 'x', d: [1] } }, { b: { d: [1], c: 'y' }, e: null }))).toEqual([
      'b.c: "x" > "y"',
      'e: - > null',
      'a: 1 > -',
    ])
    expect(json({ a: 1, b: 2 }, { b: 2, a: 1 })).toEqual([])
    expect(said(json([1], { a: 1 }))).toEqual(['all of it: [1] > {"a":1}'])
    expect(said(json({ 'a b': 1 }, { 'a b': 2 }))).toEqual(['"a b": 1 > 2'])
  })

  test('has its lists matched by what names their elements, and says that they stand otherwise', () => {
    const zones = (...names: string[]) => ({ zones: names.map((name) => ({ name, limit: name.length })) })
    expect(said(json(zones('upper', 'lower'), zones('lower', 'middle', 'upper')))).toEqual([
      'zones[name middle]: - > {"limit":6,"name":"middle"}',
      'zones, order: upper, lower > lower, upper',
    ])
    expect(said(json({ zones: [{ id: 7, limit: 1 }] }, { zones: [{ id: 7, limit: 2 }] }))).toEqual(['zones[id 7].limit: 1 > 2'])
  })

  test('has other lists matched by the shortest edit, and what was replaced looked into', () => {
    expect(said(json([1, 2, 3, 4], [1, 3, 4, 5]))).toEqual(['[1]: 2 > -', '[3]: - > 5'])
    expect(said(json([{ a: 1, b: 1 }, 9], [{ a: 1, b: 2 }, 9]))).toEqual(['[0].b: 1 > 2'])
    // Two with one name are not told apart by it.
    expect(said(json([{ id: 1 }, { id: 1 }], [{ id: 1 }]))).toEqual(['[1]: {"id":1} > -'])
  })

  test('differs nowhere exactly where both mean the same', () => {
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 3 }), fc.jsonValue({ maxDepth: 3 }), (one, other) => {
        // Minus zero is zero, in JSON as here.
        const [a, b] = [JSON.parse(JSON.stringify(one)), JSON.parse(JSON.stringify(other))]
        if (/\d{16}|__proto__/.test(JSON.stringify([a, b]).replaceAll('.', ''))) return
        expect(json(a, a)).toEqual([])
        const isSame = (() => {
          try {
            expect(a).toEqual(b)
            return true
          } catch {
            return false
          }
        })()
        expect(json(a, b).length === 0).toBe(isSame)
      }),
    )
  })

  test('that is none, nests too deep, or has numbers that could not be told apart is not compared', () => {
    expect(() => changesOfJson('{', '{}')).toThrow(/was no JSON before the change/)
    expect(() => changesOfJson('{}', '{,}')).toThrow(/was no JSON after the change/)
    expect(() => changesOfJson(`${'['.repeat(5000)}${']'.repeat(5000)}`, '[]')).toThrow(NoMeaning)
    expect(() => changesOfJson('[12345678901234567]', '[12345678901234568]')).toThrow(/too long/)
    expect(changesOfJson('["12345678901234567"]', '["12345678901234568"]')).toHaveLength(1)
    expect(said(changesOfJson('{"__proto__": 1}', '{"__proto__": 2}'))).toEqual(['__proto__: 1 > 2'])
  })

  test('of long lists with nothing in common is told in bounded time', () => {
    const numbers = (from: number) => Array.from({ length: 6000 }, (_, at) => from + at)
    expect(json(numbers(0), numbers(10_000))).toHaveLength(6000)
  })
})

describe('a table', () => {
  const table = (text: string) => text.split('\n').map((line) => line.split(','))

  test('has its rows matched by the column that tells them apart', () => {
    const before = table('kiln,zone,limit\n1,a,1200\n2,a,1250\n3,a,1260')
    const after = table('kiln,zone,limit\n3,a,1260\n2,a,1240\n4,a,1100')
    expect(said(changesOfTable(before, after))).toEqual([
      'row 2, limit: 1250 > 1240',
      'row 4: - > 4 | a | 1100',
      'row 1: 1 | a | 1200 > -',
      'rows, order: 2, 3 > 3, 2',
    ])
  })

  test('says which columns came and went, and compares the others', () => {
    expect(said(changesOfTable(table('id,a,b\n1,x,y'), table('id,b,c\n1,z,w')))).toEqual([
      'columns: - > c',
      'columns: a > -',
      'row 1, b: y > z',
    ])
    expect(said(changesOfTable(table('a,b\n1,2'), table('b,a\n2,1')))).toEqual(['columns, order: a, b > b, a'])
  })

  test('without such a column has its rows matched by the shortest edit, by their place', () => {
    expect(said(changesOfTable(table('a,b\nx,1\nx,1\ny,2'), table('a,b\nx,1\ny,3')))).toEqual([
      'row 2, a: x > y',
      'row 2, b: 1 > 3',
      'row 3: y | 2 > -',
    ])
  })

  test('differs nowhere exactly where all cells are the same', () => {
    const cell = fc.constantFrom('', 'x', 'y', '1')
    const rows = fc.array(fc.tuple(cell, cell), { maxLength: 6 })
    fc.assert(
      fc.property(rows, rows, (one, other) => {
        const [a, b] = [one, other].map((each) => [['p', 'q'], ...each] as string[][]) as [string[][], string[][]]
        expect(changesOfTable(a, b).length === 0).toBe(JSON.stringify(a) === JSON.stringify(b))
      }),
    )
  })

  test('with one name over two columns is not compared', () => {
    expect(() => changesOfTable([['a', 'a']], [['a']])).toThrow(/same name/)
  })
})
