import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { stackLikeness } from './alike.js'
import { readTrace } from './read-trace.js'
import { scrubAttributes, scrubText } from './scrub.js'

test.each([
  ['mail of ines.o+kiln@emberwick.example failed', 'mail of [e-mail] failed'],
  ['card 4111-1111-1111-1111 refused', 'card [card number] refused'],
  ['order 4111111111111112 is no card', 'order 4111111111111112 is no card'],
  ['took 1700000000000 ms', 'took 1700000000000 ms'],
  ['Authorization: Bearer abcdef123456.x', 'Authorization: [removed] [token]'],
  ['sent bearer abcdef123456', 'sent bearer [token]'],
  ['jwt eyJhbGciOiJIUzI1NiJ9.eyJzdWIiOiIxIn0.abc-_1', 'jwt [token]'],
  ['{"password":"s3cret!","a":1}', '{"password":"[removed]","a":1}'],
  ['?api_key=12345&x=1', '?api_key=[removed]&x=1'],
  ['password is missing', 'password is missing'],
])('%j is kept as %j', (text, kept) => expect(scrubText(text)).toBe(kept))

describe('attributes', () => {
  test('lose what their names say is secret, at any depth; others stay the same object', () => {
    const plain = { 'http.route': '/kilns', count: 3, list: ['a'] }
    expect(scrubAttributes(plain)).toBe(plain)
    expect(
      scrubAttributes({ 'db.password': 'x', 'http.request.header.authorization': ['y'], nested: { cookie: 'z', note: 'of a@b.example' } }),
    ).toEqual({
      'db.password': '[removed]',
      'http.request.header.authorization': '[removed]',
      nested: { cookie: '[removed]', note: 'of [e-mail]' },
    })
  })

  test('that were scrubbed once stay as they are', () => {
    fc.assert(fc.property(fc.string({ maxLength: 200 }), (text) => expect(scrubText(scrubText(text))).toBe(scrubText(text))))
    fc.assert(fc.property(fc.emailAddress(), (mail) => expect(scrubText(`to ${mail.replace(/[^\w@.-]/g, 'x')} now`)).not.toContain('@')))
  })
})

describe('stacks', () => {
  const stack = (...names: string[]) =>
    readTrace(`Error: no reading\n${names.map((name, at) => `    at ${name} (/srv/kiln/src/${name}.js:${at + 1}:1)`).join('\n')}`).exception

  test('that are the same are wholly alike; strangers are not', () => {
    expect(stackLikeness(stack('a', 'b'), stack('a', 'b')).score).toBe(1)
    expect(stackLikeness(stack('a', 'b'), stack('c', 'd')).score).toBeLessThan(0.5)
  })

  test('are put side by side in their order, each frame once', () => {
    const names = fc.array(fc.constantFrom('a', 'b', 'c', 'd'), { minLength: 1, maxLength: 12 })
    fc.assert(
      fc.property(names, names, (left, right) => {
        const { pairs, score } = stackLikeness(stack(...left), stack(...right))
        expect(pairs.flatMap((pair) => pair.left?.function ?? [])).toEqual(left)
        expect(pairs.flatMap((pair) => pair.right?.function ?? [])).toEqual(right)
        for (const { left: one, right: other } of pairs) if (one && other) expect(one.function).toBe(other.function)
        expect(score).toBeGreaterThanOrEqual(0)
        expect(score).toBeLessThanOrEqual(1)
      }),
    )
  })
})
