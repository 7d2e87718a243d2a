import { describe, expect, test } from '@jest/globals'
import { RateLimit } from './rate-limit.js'

const AT_MS = 1_790_000_000_000
const HOUR_MS = 3_600_000

/** How many of so many requests at one moment are let through. */
function letThrough(limit: RateLimit, count: number, atMs: number, key = 'ines'): number {
  return Array.from({ length: count }).filter(() => {
    try {
      limit.take(key, atMs)
      return true
    } catch {
      return false
    }
  }).length
}

describe('a limit of requests', () => {
  test('lets a burst through, then as many as it refills', () => {
    const limit = new RateLimit({ burst: 10, perMinute: 60 })
    expect(letThrough(limit, 15, AT_MS)).toBe(10)
    expect(letThrough(limit, 15, AT_MS + 5_000)).toBe(5)
    expect(letThrough(limit, 15, AT_MS + HOUR_MS)).toBe(10)
    expect(letThrough(limit, 15, AT_MS, 'teo')).toBe(10)
  })

  test('a clock that is set back takes nothing from anybody, and one that is set forth gives no more than a burst', () => {
    const limit = new RateLimit({ burst: 10, perMinute: 60 })
    expect(letThrough(limit, 4, AT_MS)).toBe(4)
    expect(letThrough(limit, 15, AT_MS - HOUR_MS)).toBe(6)
    expect(letThrough(limit, 15, AT_MS - HOUR_MS + 3_000)).toBe(3)
    expect(letThrough(limit, 15, AT_MS + HOUR_MS)).toBe(10)
  })

  test('says when to come again', () => {
    const limit = new RateLimit({ burst: 1, perMinute: 6 })
    limit.take('ines', AT_MS)
    expect(() => limit.take('ines', AT_MS)).toThrow('Try again in 10 seconds.')
  })
})
