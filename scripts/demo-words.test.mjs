import { expect, test } from '@jest/globals'
import { readSources } from './rooms.mjs'

/** What only the demo knows: its cooperative, its programs, its people, its keys. */
const WORDS = /\b(?:emberwick|kilns?|glazes?|firing-planner|rafe|noor|ines|wren|teo|mara|EMB-\d+|pottery)\b/i
/** The product; what plays the outside, the demo itself, benches and tests may speak of it. */
const PRODUCT = /^packages\/(?:core|server|web|cli)\/src\/(?!test\/|.*(?:\.test\.|\/test\/|\/testing\/))/

test('nothing of the demo stands in the product: it may be an example in a comment, and no more', () => {
  const found = [...readSources()].flatMap(([path, text]) =>
    PRODUCT.test(path)
      ? withoutComments(text)
          .split('\n')
          .flatMap((line) => (WORDS.test(line) ? [`${path}: ${line.trim().slice(0, 120)}`] : []))
      : [],
  )
  expect(found).toEqual([])
})

function withoutComments(text) {
  return text.replace(/\/\*[\s\S]*?\*\//g, '').replace(/(^|\s)\/\/.*$/gm, '$1')
}
