import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { proposeBranchName } from './branch-name.js'
import { formatMinutes, parseDurationMinutes } from './duration.js'
import { maskForeignText } from './masked-prose.js'
import { parseTrailers } from './trailers.js'

describe('durations', () => {
  test.each([
    ['1h 30m', 90],
    ['-20m', -20],
    ['1.5h', 90],
    ['2d', 960],
    ['45 min', 45],
    ['', null],
    ['h', null],
    ['1h x', null],
    ['1h-2m', null],
  ])('%j is %j minutes', (text, minutes) => expect(parseDurationMinutes(text)).toBe(minutes))
  test.each([
    [80, '1 h 20'],
    [60, '1 h'],
    [45, '45 min'],
    [-90, '−1 h 30'],
    [0, '0 min'],
  ])('%j minutes read %j', (minutes, text) => expect(formatMinutes(minutes)).toBe(text))
})

test('masking keeps the length and the line breaks of any text', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 300 }), (text) => {
      const masked = maskForeignText(text)
      expect(masked.length).toBe(text.length)
      expect([...masked].filter((char) => char === '\n').length).toBe([...text].filter((char) => char === '\n').length)
    }),
  )
})

describe('parseTrailers', () => {
  test('continuation lines belong to the trailer above', () =>
    expect(parseTrailers('s\n\nRefs: EMB-1,\n  EMB-2')).toEqual([{ name: 'Refs', value: 'EMB-1, EMB-2', line: 2 }]))
  test('a last paragraph of prose with a colon in it is not a block of trailers', () =>
    expect(parseTrailers('s\n\nNote: this\nis plain prose\nover some\nmore lines\nof text')).toEqual([]))
})

test('a proposed branch bears the key, is short, and holds nothing that git or a shell minds', () => {
  expect(proposeBranchName({ key: 'EMB-142', title: 'Relay stays closed; rm -rf "$HOME" für Öfen', type: 'defect' })).toBe(
    'fix/EMB-142-relay-stays-closed-rm-rf-home-fur-ofen',
  )
  fc.assert(
    fc.property(fc.string(), (title) => {
      const name = proposeBranchName({ key: 'EMB-1', title, type: 'story' })
      expect(name).toMatch(/^feature\/EMB-1(?:-[a-z0-9]+)*$/)
      expect(name.length).toBeLessThanOrEqual(60)
    }),
  )
})
