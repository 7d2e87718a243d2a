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
  ])('of %s %j is called %j', (field, value, name) => {
    expect(groupName(field, value, nameOf)).toBe(name)
  })

  test('is called something for every field, also without a value', () => {
    for (const field of [...GROUP_FIELDS, ...BOARD_FIELDS]) expect(groupName(field, '', nameOf)).toMatch(/\w/)
  })
})
