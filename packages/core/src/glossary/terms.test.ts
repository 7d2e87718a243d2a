import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { acronymsOf, findTermTrouble, termsIn } from './terms.js'

const GLOSSARY = [
  { term: 'firing', instead: ['burn', 'bake'] },
  { term: 'kiln plan', instead: ['plan', 'schedule'] },
  { term: 'TCO', instead: [] },
]
const said = (text: string) => findTermTrouble(text, GLOSSARY).map(({ code, words, other }) => [code, words, other])

describe('a text held against the glossary', () => {
  test.each([
    ['A burn shall end.', [['other-word', 'burn', 'firing']]],
    ['Two Burns shall end.', [['other-word', 'Burns', 'firing']]],
    ['The burner shall stop.', []],
    ['The kiln plan shall be kept.', []],
    ['The kiln plans and the schedule shall be kept.', [['other-word', 'schedule', 'kiln plan']]],
    ['It shall show “quiet hours”.', [['undefined-term', 'quiet hours', null]]],
    ['It shall show **Firings**.', []],
    ['It shall say “Stop now.” and *heat*.', [['undefined-term', 'heat', null]]],
    ['It shall open within “5 s”.', []],
  ])('%s', (text, findings) => {
    expect(said(text)).toEqual(findings)
  })

  test('where nobody agreed on words, none is wrong', () => {
    expect(findTermTrouble('A burn shall show “quiet hours”.', [])).toEqual([])
  })

  test('says words as they stand, where they stand, for any text and any word', () => {
    const word = fc.stringMatching(/^[a-z(.+]{1,8}$/)
    fc.assert(
      fc.property(
        fc.string({ maxLength: 200 }),
        fc.array(fc.record({ term: word, instead: fc.array(word, { maxLength: 3 }) }), { maxLength: 4 }),
        (text, glossary) => {
          for (const { code, words, at } of findTermTrouble(text, glossary)) {
            if (code === 'other-word') expect(text.slice(at, at + words.length)).toBe(words)
            else expect(text.slice(at)).toContain(words)
          }
        },
      ),
    )
  })
})

test('the words that a text uses are told, acronyms in their own case only', () => {
  expect(termsIn('Firings end when the TCO opens.', GLOSSARY).map(({ term }) => term)).toEqual(['firing', 'TCO'])
  expect(termsIn('the tco opens', GLOSSARY)).toEqual([])
  expect(acronymsOf(GLOSSARY)).toEqual(['TCO'])
})
