import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { minorChange } from './minor-change.js'

describe('a change of spelling', () => {
  test.each([
    ['The controler shall cut the heat.', 'The controller shall cut the heat.'],
    ['an open thermocouple is recognised', 'An open thermocouple is recognized'],
    ['Heat is withheld until a technician has cleared the fault', 'Heat is withheld until the technician has cleared the fault.'],
    ['It stops.', 'It   stops'],
    ['', ''],
  ])('“%s” and “%s” say the same', (before, after) => {
    expect(minorChange(before, after)).toEqual({ isMinor: true, heavy: [] })
  })

  test.each([
    ['cut the heat within 5 s', 'cut the heat within 2 s', ['2']],
    ['The relay shall open', 'The relay should open', ['should']],
    ['Heat shall be withheld', 'Heat shall not be withheld', ['not']],
    ['at 50 °C above', 'at 50 °F above', ['°f']],
    ['when the door is open', 'when the door is closed', ['closed']],
    ['before the soak', 'after the soak', ['after']],
    ['It cuts the heat and the gas', 'It cuts the heat', ['and', 'gas']],
    ['raise the alarm', 'raise the siren', ['siren']],
    ['what effect it has', 'what affect it has', ['affect']],
  ])('“%s” and “%s” do not', (before, after, heavy) => {
    expect(minorChange(before, after)).toEqual({ isMinor: false, heavy })
  })

  test('no number, modal verb or negation ever changes unnoticed; the same text never changes', () => {
    const words = fc.array(fc.constantFrom('the', 'kiln', 'shall', 'heat', '5', 'not', 'within', 'relay', 'controller', 'cut'), {
      maxLength: 12,
    })
    const weighty = (text: string) =>
      text
        .split(' ')
        .filter((word) => ['shall', '5', 'not', 'within'].includes(word))
        .join(' ')
    fc.assert(
      fc.property(words, words, (one, two) => {
        const [before, after] = [one.join(' '), two.join(' ')]
        expect(minorChange(before, before).isMinor).toBe(true)
        expect(minorChange(before, after).isMinor).toBe(minorChange(after, before).isMinor)
        if (minorChange(before, after).isMinor) expect(weighty(before)).toBe(weighty(after))
      }),
    )
  })
})
