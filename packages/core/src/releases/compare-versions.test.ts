import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { compareVersions } from './compare-versions.js'

describe('compareVersions', () => {
  test('orders as the specification of Semantic Versioning does', () => {
    const ordered = [
      '1.0.0-alpha',
      '1.0.0-alpha.1',
      '1.0.0-alpha.beta',
      '1.0.0-beta',
      '1.0.0-beta.2',
      '1.0.0-beta.11',
      '1.0.0-rc.1',
      '1.0.0',
    ]
    expect([...ordered].reverse().sort(compareVersions)).toEqual(ordered)
  })

  test.each([
    ['4.10.0', '4.9.3', 1],
    ['v4.1', '4.1.0', 0],
    ['2026.10.2', '2026.9.30', 1],
    ['4.1.4+build.7', '4.1.4', 0],
    ['99999999999999999999.1', '99999999999999999998.1', 1],
    ['blue', 'green', -1],
  ])('%s against %s', (a, b, order) => expect(Math.sign(compareVersions(a, b))).toBe(order))

  test('is an order: turned around it says the opposite, and what is between stays between', () => {
    const zVersion = fc.stringMatching(/^v?\d{1,3}(\.\d{1,3}){0,3}(-[a-z0-9]{1,3}(\.\d{1,2})?)?$/)
    fc.assert(
      fc.property(zVersion, zVersion, zVersion, (a, b, c) => {
        expect(Math.sign(compareVersions(a, b)) + Math.sign(compareVersions(b, a))).toBe(0)
        const [low, middle, high] = [a, b, c].sort(compareVersions) as [string, string, string]
        expect(compareVersions(low, middle)).toBeLessThanOrEqual(0)
        expect(compareVersions(low, high)).toBeLessThanOrEqual(0)
        expect(compareVersions(middle, high)).toBeLessThanOrEqual(0)
      }),
    )
  })
})
