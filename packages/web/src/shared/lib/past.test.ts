import { describe, expect, test } from '@jest/globals'
import { momentOf } from '@dystracer/core/past/moment'
import { addressAt, apiRoot, pageRoot, pastAt, withoutPast } from './past.js'

describe('the moment of a page', () => {
  test('is now where the address names none', () => {
    expect([pastAt, pageRoot, apiRoot]).toEqual([null, '', '/api/v1'])
    expect(withoutPast('/items~open')).toBe('/items~open')
  })

  test('stands before the same path, to the second, and is left out for now', () => {
    const atMs = Date.parse('2026-10-03T12:00:00.900Z')
    expect(momentOf(atMs)).toBe('2026-10-03T12:00:00Z')
    expect(addressAt(atMs, '/items~open/item~EMB-1')).toBe('/past/2026-10-03T12:00:00Z/items~open/item~EMB-1')
    expect(addressAt(null, '/items~open')).toBe('/items~open')
    expect(addressAt(null, '')).toBe('/')
  })
})
