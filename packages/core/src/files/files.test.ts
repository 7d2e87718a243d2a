import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { knowersOf } from './knowers.js'

const DAY_MS = 86_400_000
const NOW_MS = 1_790_000_000_000

test('whoever wrote the lines that stand knows a file best; of two without lines, whoever worked on it of late', () => {
  const work = [
    { author: 'noor@x', atMs: NOW_MS - 900 * DAY_MS },
    { author: 'rafe@x', atMs: NOW_MS - 30 * DAY_MS },
    { author: 'tam@x', atMs: NOW_MS - 400 * DAY_MS },
  ]
  expect(knowersOf(work, new Map([['noor@x', 40]]), { nowMs: NOW_MS }).map(({ author }) => author)).toEqual(['noor@x', 'rafe@x', 'tam@x'])
})

test('shares lie between nothing and all, best first, and one more line never makes anybody know less', () => {
  const author = fc.constantFrom('a', 'b', 'c', 'd')
  const past = fc.array(fc.record({ author, atMs: fc.integer({ min: NOW_MS - 2000 * DAY_MS, max: NOW_MS }) }), { maxLength: 20 })
  fc.assert(
    fc.property(past, fc.dictionary(author, fc.integer({ min: 1, max: 500 })), author, (work, lines, one) => {
      const linesBy = new Map(Object.entries(lines))
      const found = knowersOf(work, linesBy, { nowMs: NOW_MS })
      for (const [at, { share01 }] of found.entries()) {
        expect(share01).toBeGreaterThanOrEqual(0)
        expect(share01).toBeLessThanOrEqual(1 + 1e-9)
        if (at > 0) expect(share01).toBeLessThanOrEqual(found[at - 1]?.share01 ?? 1)
      }
      const shareOf = (of: typeof found) => of.find((each) => each.author === one)?.share01 ?? 0
      const more = new Map(linesBy).set(one, (linesBy.get(one) ?? 0) + 1)
      expect(shareOf(knowersOf(work, more, { nowMs: NOW_MS }))).toBeGreaterThanOrEqual(shareOf(found) - 1e-9)
    }),
  )
})
