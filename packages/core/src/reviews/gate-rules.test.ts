import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { namesBranch } from '#text/branch-name'
import { gatesFor, parseGates, type GateRule } from './gate-rules.js'
import { DEFAULT_GATES } from './gates.js'

const rule = (branches: string, agreements: number): GateRule => ({ ...DEFAULT_GATES, branches, agreements })

describe('gates of a base', () => {
  test('are those of the pattern that says most of it', () => {
    const rules = [rule('*', 1), rule('release/*', 2), rule('release/4.*', 3), rule('release/4.1', 4)]
    const agreements = (base: string) => gatesFor(rules, base).agreements
    expect(['main', 'release/5', 'release/4.2', 'release/4.1'].map(agreements)).toEqual([1, 2, 3, 4])
    expect(gatesFor([rule('release/*', 2)], 'main')).toEqual(DEFAULT_GATES)
  })

  test('are found by patterns as a plain search would, however many stars they have', () => {
    const slow = (pattern: string, text: string): boolean => {
      if (pattern === '') return text === ''
      if (pattern[0] === '*') return slow(pattern.slice(1), text) || (text !== '' && slow(pattern, text.slice(1)))
      return text !== '' && pattern[0] === text[0] && slow(pattern.slice(1), text.slice(1))
    }
    const letters = (from: string) => fc.string({ unit: fc.constantFrom(...from), maxLength: 8 })
    fc.assert(fc.property(letters('ab*'), letters('ab'), (pattern, text) => expect(namesBranch(pattern, text)).toBe(slow(pattern, text))))
    expect(namesBranch('*a'.repeat(90), 'a'.repeat(200))).toBe(true)
  })
})

describe('a file of gates', () => {
  test('says what has to hold by branch', () => {
    const parsed = parseGates(
      'main:\n  agreements: 2\n  owners: true\n  hours: { days: [1, 2], from: "08:00", until: "16:00", zone: Europe/Lisbon ' +
        '}\nrelease/*:\n  item: true\n',
    )
    expect(parsed).toEqual({
      rules: [
        { ...rule('main', 2), needsOwners: true, hours: { days: [1, 2], from: '08:00', until: '16:00', zone: 'Europe/Lisbon' } },
        { ...rule('release/*', 0), needsItem: true },
      ],
    })
    expect(parseGates('')).toEqual({ rules: [] })
  })

  test.each([
    ['main: [', 'must be sufficiently indented'],
    ['main:\n  agreement: 1', 'agreement'],
    ['main:\n  agreements: many', 'main › agreements'],
    ['main:\n  hours: { days: [1], from: "8", until: "9:00", zone: Mars }', 'main › hours › from'],
    ['a: &x { item: true }\nb: *x', 'alias'],
    [`main:\n  # ${'x'.repeat(60_000)}`, 'longer than'],
  ])('that is wrong is not guessed at: %#', (text, words) => {
    const parsed = parseGates(text)
    expect('why' in parsed ? parsed.why : '').toMatch(new RegExp(words, 'i'))
  })
})
