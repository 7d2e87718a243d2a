import { describe, expect, test } from '@jest/globals'
import { readFileSync } from 'node:fs'
import { explainedIn, findContradictions, findWriting } from './writing.js'

interface Marked {
  text: string
  findings: string[]
  half: 'worked' | 'aside'
}
const marked = readFileSync(new URL('../../test-data/writing.jsonl', import.meta.url), 'utf8')
  .trim()
  .split('\n')
  .map((line) => JSON.parse(line) as Marked)

describe('how a requirement is written', () => {
  test.each(['worked', 'aside'] as const)('is judged as people marked it, on the half that was %s', (half) => {
    let [right, wrong, missed] = [0, 0, 0]
    for (const { text, findings } of marked.filter((one) => one.half === half)) {
      const found = new Set<string>(findWriting(text, explainedIn([text])).map(({ code }) => code))
      for (const code of found) findings.includes(code) ? right++ : wrong++
      missed += findings.filter((code) => !found.has(code)).length
    }
    expect((2 * right) / (2 * right + wrong + missed)).toBeGreaterThanOrEqual(0.85)
  })

  test('names the words and where they stand', () => {
    const text = 'It shall ring quickly and shall be heard, see SAF-3.'
    expect(findWriting(text).map(({ code, words, at }) => [code, words, text.slice(at, at + words.length)])).toEqual([
      ['unbounded', 'quickly', 'quickly'],
      ['several', 'shall', 'shall'],
    ])
  })

  test('explains an acronym once for the whole document', () => {
    expect(explainedIn(['a thermal cut-out (TCO)', 'PLC (programmable logic controller)', 'MCU'])).toEqual(new Set(['TCO', 'PLC']))
  })

  test('contradicts another requirement that sets another number for the same', () => {
    const found = findContradictions([
      { key: 'A-1', text: 'The limiter shall open the contactor within 5 s of an over-temperature.' },
      { key: 'A-2', text: 'The limiter shall open the contactor within 10 s of an over-temperature.' },
      { key: 'A-3', text: 'The limiter shall open the contactor within 5 s of any over-temperature.' },
      { key: 'A-4', text: 'The page shall load within 2 s.' },
    ])
    expect([...found].map(([key, findings]) => [key, findings.map(({ other, words }) => `${words} against ${other}`)])).toEqual([
      ['A-1', ['5 s against A-2']],
      ['A-2', ['10 s against A-1', '10 s against A-3']],
      ['A-3', ['5 s against A-2']],
    ])
  })
})
