import { describe, expect, test } from '@jest/globals'
import { BOARD_FIELDS } from '@dystracer/core/board/board'
import { GROUP_FIELDS } from '@dystracer/core/looking/orders'
import { groupName } from './group-name'

const nameOf = (id: string | null) => (id === 'person:mara' ? 'Mara Lindqvist' : 'nobody')

describe('a group, a column, a lane', () => {
  test.each([
    ['owner', '', 'nobody’s'],
    ['owner', 'mara', 'Mara Lindqvist'],
    ['severity', '2', 'severity 2'],
    ['severity', '', 'no severity'],
    ['stage', 'in-review', 'in review'],
    ['component', 'Kiln control', 'Kiln control'],
    ['parent', 'EMB-3', 'part of EMB-3'],
    ['estimate', '90', '1 h 30'],
    ['points', '1', '1 point'],
  ])('of %s %j is called %j', (field, value, name) => {
    expect(groupName(field, value, nameOf)).toBe(name)
  })

  test('is called something for every field, also without a value', () => {
    const zone = { name: 'Zone', kind: 'several-of' } as const
    expect(groupName('own.zone', '', nameOf, zone)).toBe('no Zone')
    expect(groupName('own.zone', '["door","lid"]', nameOf, zone)).toBe('door, lid')
    expect(groupName('own.by', 'mara', nameOf, { name: 'Found by', kind: 'person' })).toBe('Mara Lindqvist')
    for (const field of [...GROUP_FIELDS, ...BOARD_FIELDS]) expect(groupName(field, '', nameOf)).toMatch(/\w/)
  })
})
