import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { overlapIn, withLinesChanged } from './line-changes.js'

describe('lines that give way to others', () => {
  test('are changed, taken out and multiplied, and line ends stay', () => {
    const change = (line: number, lastLine: number, text: string) => ({ line, lastLine, text })
    expect(withLinesChanged('a\nb\nc\n', [change(2, 2, 'B')])).toBe('a\nB\nc\n')
    expect(withLinesChanged('a\nb\nc', [change(1, 2, ''), change(3, 3, 'C\nD')])).toBe('C\nD')
    expect(withLinesChanged('a\r\nb\r\n', [change(2, 2, 'B')])).toBe('a\r\nB\r\n')
    expect(withLinesChanged('a\n', [change(2, 2, 'x')])).toBeNull()
  })

  test('may be given in any order, as long as none overlap', () => {
    const text = 'one\ntwo\nthree\nfour\nfive\n'
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 1, max: 5 }), { minLength: 1 }), (at) => {
        const changes = at.map((line) => ({ path: 'a', line, lastLine: line, text: `L${line}\nL${line}'` }))
        expect(overlapIn(changes)).toBeNull()
        const changed = withLinesChanged(text, changes)
        expect(withLinesChanged(text, [...changes].reverse())).toBe(changed)
        expect(changed?.split('\n')).toHaveLength(6 + at.length)
      }),
    )
  })

  test('are told where two touch the same', () => {
    const a = { path: 'a', line: 1, lastLine: 3, text: '' }
    expect(overlapIn([a, { ...a, line: 3, lastLine: 4 }])).not.toBeNull()
    expect(overlapIn([a, { ...a, path: 'b' }])).toBeNull()
  })
})
