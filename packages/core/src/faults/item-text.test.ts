import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { fillText, hasPart, TEXT_PARTS, type TextPart, unknownParts } from './item-text.js'

const valuesOf = (value: (part: TextPart) => string) =>
  Object.fromEntries(TEXT_PARTS.map((part) => [part, value(part)])) as Record<TextPart, string>

test('room is filled, what is none stays and is named', () => {
  const text = 'In {service} {release}: {message}\n\n{report}\n{reason} {Type} {message}'
  expect(
    fillText(
      text,
      valuesOf((part) => `<${part}>`),
    ),
  ).toBe('In <service> <release>: <message>\n\n<report>\n{reason} {Type} <message>')
  expect(unknownParts(text)).toEqual(['reason'])
  expect([hasPart(text, 'report'), hasPart(text, 'fault')]).toEqual([true, false])
})

test('what fills the room is not looked through again', () => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom('{message}', '{report}', '{other}', ' and ', '$&', '{')), fc.string(), (pieces, given) => {
      const filling = `${given}{report}$1`
      const expected = pieces.map((piece) => (piece === '{message}' || piece === '{report}' ? filling : piece)).join('')
      // Pieces that come to stand beside each other could make other room; those are left out.
      fc.pre(!pieces.some((piece, at) => piece === '{' && /^[a-z ]/.test(pieces[at + 1] ?? '')))
      expect(
        fillText(
          pieces.join(''),
          valuesOf(() => filling),
        ),
      ).toBe(expected)
    }),
  )
})
