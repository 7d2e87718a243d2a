import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { overlapIn, readInstead, withLinesChanged, writeInstead } from './instead.js'

describe('what a remark proposes', () => {
  test('is the inside of its fence', () => {
    expect(readInstead('Better so:\n\n```instead\nif (a)\n  b()\n```\nand go on')).toBe('if (a)\n  b()')
    expect(readInstead('```js\ncode\n```')).toBeNull()
    expect(readInstead('```instead\nnever closed')).toBeNull()
    expect(readInstead('~~~~ instead\n~~~\n~~~~')).toBe('~~~')
    expect(readInstead('```instead\n```')).toBe('')
  })

  test('is read as it was written, whatever it holds', () => {
    const line = fc.string({ maxLength: 20 }).filter((text) => !/[\r\n]/.test(text))
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 5 }), fc.constantFrom('', 'Better so:'), (lines, words) => {
        const text = lines.join('\n')
        expect(readInstead(writeInstead(words, text))).toBe(text)
      }),
    )
  })
})

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
