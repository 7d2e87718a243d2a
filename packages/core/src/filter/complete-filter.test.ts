import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { completeFilter } from './complete-filter.js'
import { filterChips, withCondition } from './filter-chips.js'
import { parseFilter } from './parse-filter.js'

const known = { owner: ['ines', 'rafe'], milestone: ['4.1', '4.2', 'spring tide'], component: ['Kiln control'] }
const at = (text: string) => {
  const caret = text.indexOf('|')
  const { from, to, options } = completeFilter(text.replace('|', ''), caret, known)
  return { range: [from, to], texts: options.map((option) => option.text) }
}

describe('completions', () => {
  test.each([
    ['ov|', [0, 2], ['overdue']],
    ['open mile|', [5, 9], ['milestone=']],
    ['open milestone=|', [15, 15], ['4.1', '4.2', '"spring tide"']],
    ['milestone="spr|', [10, 14], ['"spring tide"']],
    ['owner=m|', [6, 7], ['me']],
    ['(stage>=rel|', [8, 11], ['released']],
    ['updated<|', [8, 8], ['1d', '7d', '2w', '30d']],
    ['colour=|', [0, 7], []],
    ['"two wo|', [0, 7], []],
    ['defect sev| open', [7, 10], ['severity=']],
  ])('%s', (text, range, texts) => {
    expect(at(text)).toEqual({ range, texts })
  })

  test('whatever is taken, the text before and behind stays, and a taken value is understood', () => {
    const values = fc.constantFrom('milestone=', 'owner=', 'component=', 'stage=', 'severity=')
    fc.assert(
      fc.property(values, fc.constantFrom('', 'open ', '(mine or '), (field, before) => {
        const text = before + field
        for (const option of completeFilter(text, text.length, known).options) {
          const { from, to } = completeFilter(text, text.length, known)
          const taken = text.slice(0, from) + option.text + text.slice(to)
          expect(taken.startsWith(before)).toBe(true)
          expect(parseFilter(before.startsWith('(') ? `${taken})` : taken)).toHaveProperty('filter')
        }
      }),
    )
  })
})

describe('chips', () => {
  test('are the conditions that stand side by side, each with what is left without it', () => {
    expect(filterChips('open defect (mine or unowned) "relay"')).toEqual([
      { text: 'open', without: 'type=defect (mine or unowned) "relay"' },
      { text: 'type=defect', without: 'open (mine or unowned) "relay"' },
      { text: 'mine or unowned', without: 'open type=defect "relay"' },
      { text: '"relay"', without: 'open type=defect (mine or unowned)' },
    ])
    expect(filterChips('')).toEqual([])
    expect(filterChips('colour=red')).toEqual([])
    expect(filterChips('open or mine')).toEqual([{ text: 'open or mine', without: '' }])
  })

  test('a condition is added once', () => {
    expect(withCondition('open', 'severity<=2')).toBe('open severity<=2')
    expect(withCondition('open severity<=2', 'severity<=2')).toBe('open severity<=2')
    expect(withCondition('', 'mine')).toBe('mine')
  })
})
