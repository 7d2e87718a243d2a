import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { lineName } from './line-name.js'

describe('the name of a maintenance line', () => {
  test.each([
    ['4.1.5', '', 'maintenance/4.1'],
    ['v4.1.5'.slice(1), 'v', 'maintenance/4.1'],
    ['4.1', '', 'maintenance/4.1'],
    ['7', '', 'maintenance/7'],
    ['4.2.0-rc.1', '', 'maintenance/4.2'],
    ['2026.11.2', '', 'maintenance/2026.11'],
    ['4.1.5', 'planner-v', 'maintenance/planner-4.1'],
    ['4.1.5', 'services/planner@', 'maintenance/services-planner-4.1'],
  ])('%s with tags %s is %s', (release, prefix, name) => {
    expect(lineName(release, prefix)).toBe(name)
  })

  test('is a name that git takes, whatever the release is called', () => {
    fc.assert(
      fc.property(fc.string({ minLength: 1, maxLength: 20 }), fc.string({ maxLength: 12 }), (release, prefix) => {
        expect(lineName(`1${release}`, prefix)).toMatch(/^maintenance\/[\w.-]+$/)
      }),
    )
  })
})
