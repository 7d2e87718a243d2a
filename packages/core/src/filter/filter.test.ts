import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Filter } from './filter.js'
import { parseFilter } from './parse-filter.js'
import { printFilter } from './print-filter.js'

describe('parseFilter', () => {
  test('terms side by side are joined by and, which binds tighter than or', () => {
    expect(parseFilter('open defect or severity<=2')).toEqual({
      filter: {
        kind: 'or',
        parts: [
          {
            kind: 'and',
            parts: [
              { kind: 'flag', flag: 'open' },
              { kind: 'compare', field: 'type', comparison: '=', value: 'defect' },
            ],
          },
          { kind: 'compare', field: 'severity', comparison: '<=', value: '2' },
        ],
      },
    })
  })
  test.each([
    ['colour=red', 'unknown-field', 0, 6],
    ['open own=red', 'unknown-field', 5, 8],
    ['open severity<=x', 'wrong-value', 5, 16],
    ['owner=', 'missing-value', 0, 6],
    ['(open', 'unclosed-bracket', 0, 1],
    ['open "rel', 'unclosed-quote', 5, 9],
    ['open )', 'unexpected', 5, 6],
    ['not', 'unexpected', 0, 3],
    ['updated<soon', 'wrong-value', 0, 12],
  ])('%j is refused as %s at its place', (text, code, from, to) => expect(parseFilter(text)).toMatchObject({ error: { code, from, to } }))

  test('a dot makes a field of own fields alone; elsewhere it belongs to the word that is looked for', () => {
    expect(parseFilter('own.zone=door')).toEqual({ filter: { kind: 'compare', field: 'own.zone', comparison: '=', value: 'door' } })
    expect(parseFilter('config.port=80')).toEqual({ filter: { kind: 'words', text: 'config.port=80', isPhrase: false } })
  })

  const leaf: fc.Arbitrary<Filter> = fc.oneof(
    fc.constantFrom<Filter>(
      { kind: 'flag', flag: 'open' },
      { kind: 'flag', flag: 'mine' },
      { kind: 'compare', field: 'severity', comparison: '<=', value: '2' },
      { kind: 'compare', field: 'milestone', comparison: '!=', value: 'spring tide' },
      { kind: 'compare', field: 'own.fired-at', comparison: '>=', value: '6' },
      { kind: 'words', text: 'relay', isPhrase: false },
      { kind: 'words', text: 'two words', isPhrase: true },
    ),
  )
  const tree = fc.letrec<{ node: Filter }>((tie) => ({
    node: fc.oneof(
      { depthSize: 'small' },
      leaf,
      fc.record({ kind: fc.constant('not' as const), part: tie('node') }),
      fc.record({ kind: fc.constantFrom('and' as const, 'or' as const), parts: fc.array(tie('node'), { minLength: 2, maxLength: 3 }) }),
    ),
  })).node

  test('what is printed parses back to the same filter', () => {
    fc.assert(fc.property(tree, (filter) => expect(parseFilter(printFilter(filter))).toEqual({ filter })))
  })
  test('any text gives a filter or an error, never a failure', () => {
    fc.assert(fc.property(fc.string(), (text) => expect(Object.keys(parseFilter(text))[0]).toMatch(/^(?:filter|error)$/)))
  })
})
