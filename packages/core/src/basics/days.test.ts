import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { dayIn, isTimeZone } from './days.js'

const ZONES = ['Pacific/Auckland', 'Pacific/Kiritimati', 'America/Los_Angeles', 'Europe/Berlin', 'Asia/Kathmandu', 'UTC']

describe('the day in a zone', () => {
  test('is the next one already in the east, and still the one before in the west', () => {
    const atMs = Date.parse('2026-11-24T11:30:00Z')
    expect(dayIn('Pacific/Auckland', atMs)).toBe('2026-11-25')
    expect(dayIn('America/Los_Angeles', Date.parse('2026-11-24T03:00:00Z'))).toBe('2026-11-23')
    expect(dayIn(null, atMs)).toBe('2026-11-24')
  })

  test('is that of UTC for a zone that nobody knows', () => {
    expect(dayIn('Nowhere/Kiln', Date.parse('2026-11-24T23:59:59Z'))).toBe('2026-11-24')
  })

  test('is what the run time itself says, summers and winters', () => {
    fc.assert(
      fc.property(fc.constantFrom(...ZONES), fc.integer({ min: Date.parse('1990-01-01'), max: Date.parse('2060-01-01') }), (zone, atMs) => {
        const parts = { timeZone: zone, year: 'numeric', month: '2-digit', day: '2-digit' } as const
        // The Swedish write days as ISO 8601 does.
        expect(dayIn(zone, atMs)).toBe(new Intl.DateTimeFormat('sv-SE', parts).format(atMs))
      }),
    )
  })
})

test('zones are known by name, offsets are none', () => {
  for (const zone of ZONES) expect(isTimeZone(zone)).toBe(true)
  for (const text of ['', 'Nowhere/Kiln', '+02:00', '../etc', 'Europe/Berlin; DROP TABLE']) expect(isTimeZone(text)).toBe(false)
})
