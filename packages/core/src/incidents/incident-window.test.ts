import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { releasesDuring, windowOf } from './incident-window.js'

const HOUR_MS = 3_600_000

test('a window begins a day before, and ends now while the incident goes on', () => {
  expect(windowOf({ startedAtMs: 100 * HOUR_MS, overAtMs: null }, 103 * HOUR_MS)).toEqual({
    fromMs: 76 * HOUR_MS,
    startedAtMs: 100 * HOUR_MS,
    toMs: 103 * HOUR_MS,
  })
  expect(windowOf({ startedAtMs: 9, overAtMs: 4 }, 50).toMs).toBe(9)
})

describe('what ran during an incident', () => {
  const during = windowOf({ startedAtMs: 10, overAtMs: 20 }, 99)
  test('is what ran at its beginning and what came until its end, service by service', () => {
    const runs = [
      { service: 'kiln', release: '1', atMs: 2 },
      { service: 'kiln', release: '2', atMs: 5 },
      { service: 'kiln', release: '3', atMs: 15 },
      { service: 'kiln', release: '4', atMs: 25 },
      { service: 'glaze', release: '7', atMs: 1 },
    ]
    expect(releasesDuring(runs, during)).toEqual([
      { release: 'glaze@7', fromMs: 1, toMs: null },
      { release: 'kiln@2', fromMs: 5, toMs: 15 },
      { release: 'kiln@3', fromMs: 15, toMs: null },
    ])
  })

  test('is what a look at every moment finds, whatever the order', () => {
    const zRun = fc.record({ service: fc.constantFrom('a', 'b'), release: fc.nat(99).map(String), atMs: fc.nat(30) })
    const runsOf = fc.uniqueArray(zRun, { maxLength: 12, selector: (run) => `${run.service} ${run.atMs}` })
    fc.assert(
      fc.property(runsOf, (runs) => {
        const seen = new Set<string>()
        for (let atMs = 10; atMs <= 20; atMs++)
          for (const service of ['a', 'b']) {
            const newest = runs.filter((run) => run.service === service && run.atMs <= atMs).sort((one, other) => other.atMs - one.atMs)[0]
            if (newest) seen.add(`${service}@${newest.release} since ${newest.atMs}`)
          }
        const found = releasesDuring(runs, during).map(({ release, fromMs }) => `${release} since ${fromMs}`)
        expect(new Set(found)).toEqual(seen)
        expect(found.length).toBe(seen.size)
      }),
      { numRuns: 300 },
    )
  })
})
