import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { BOARD_FIELDS } from '#board/board'
import { suggestPrefix } from '#projects/suggest-prefix'
import { filterWords } from '#filter/filter-words'
import type { ItemSummary } from '#records/wire'
import { addDays, addMonths, byDay, weeksOf } from './calendar.js'
import { boundedWidth, columnsInOrder, ITEM_COLUMNS_SHOWN, parseLook, printLook, WIDTH_PX, type Look } from './look.js'
import { listLines } from './groups.js'
import { GROUP_FIELDS, ITEM_SORTS } from './orders.js'
import { outlineRows } from './outline.js'
import { parseValues, printValues } from './value-list.js'

describe('a look', () => {
  test.each([
    ['', { filter: 'open' }],
    ['*', { filter: '' }],
    ['open defect', { filter: 'open defect' }],
    ['open?group=owner', { filter: 'open', groupBy: 'owner' }],
    ['open?group=owner&folded=%25%2Cmara', { filter: 'open', groupBy: 'owner', folded: ['', 'mara'] }],
    ['open?folded=mara', { filter: 'open' }],
    ['*?sort=newest&month=2026-02', { filter: '', sort: 'newest', month: '2026-02' }],
    ['"what?" mine', { filter: '"what?" mine' }],
    ['why?', { filter: 'why?' }],
    ['open?wide=due%3A90%2Clabels%3A9999%2Ccolour%3A3', { filter: 'open', widths: { due: 90, labels: WIDTH_PX.most } }],
    ['open?sort=sideways&group=colour', { filter: 'open' }],
  ] as [string, Look][])('is read from %j', (id, look) => {
    expect(parseLook(id)).toEqual(look)
  })

  test('comes back from the address as it went in', () => {
    const optional = <Value>(arbitrary: fc.Arbitrary<Value>) => fc.option(arbitrary, { nil: undefined })
    const look = fc.record({
      filter: fc.constantFrom('', 'open', 'open severity<=2 "relay"', 'label="a?b" mine', '(a or b) not c'),
      sort: optional(fc.constantFrom(...ITEM_SORTS)),
      groupBy: optional(fc.constantFrom(...GROUP_FIELDS, 'own.zone' as const)),
      columns: optional(fc.subarray([...ITEM_COLUMNS_SHOWN, 'own.zone' as const]).map(columnsInOrder)),
      widths: optional(
        fc.dictionary(
          fc.constantFrom(...ITEM_COLUMNS_SHOWN, 'own.zone' as const),
          fc.integer({ min: WIDTH_PX.least, max: WIDTH_PX.most }),
          { minKeys: 1 },
        ),
      ),
      cards: optional(fc.constantFrom(...BOARD_FIELDS, 'own.zone' as const)),
      lanes: optional(fc.constantFrom(...BOARD_FIELDS)),
      values: optional(fc.array(fc.constantFrom('', 'kiln, small', 'door'), { minLength: 1 })),
      month: optional(fc.constantFrom('2026-01', '2026-12')),
    })
    fc.assert(
      fc.property(look, (made) => {
        const given = Object.fromEntries(Object.entries(made).filter(([, value]) => value !== undefined)) as unknown as Look
        expect(parseLook(printLook(given))).toEqual({ ...given, ...(given.widths && { widths: { ...given.widths } }) })
      }),
    )
  })

  test('shows own fields before the days and people, and no name that is neither', () => {
    expect(columnsInOrder(['own.zone', 'owner', 'severity', 'due'])).toEqual(['severity', 'own.zone', 'due', 'owner'])
    expect(columnsInOrder(['own.zone', 'severity', 'own.zone'])).toEqual(['severity', 'own.zone'])
    expect(parseLook('open?show=own.zone,own.Zone,colour&group=own.-')).toEqual({ filter: 'open', columns: ['own.zone'] })
  })

  test('keeps widths within bounds', () => {
    expect([boundedWidth(3), boundedWidth(100.4), boundedWidth(9999)]).toEqual([WIDTH_PX.least, 100, WIDTH_PX.most])
  })
})

describe('values in one text', () => {
  test('come back as they went in, an empty one as well', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ unit: 'grapheme' })), (values) => {
        expect(parseValues(printValues(values))).toEqual(values)
      }),
    )
    expect(parseValues('a,%E0%A4%A,,b')).toEqual(['a', 'b'])
  })
})

describe('the lines of a grouped list', () => {
  const owners = ['ines', 'mara', 'tam', '']
  const item = (key: string, ownerId: string) => ({ key, ownerId: ownerId === '' ? null : ownerId }) as ItemSummary

  test('have a head before each group; one that is folded keeps its head and its place', () => {
    const groups = owners.map((value, at) => ({ value, count: at + 1 }))
    const items = [item('A-1', 'mara'), item('A-2', 'mara')]
    expect(listLines(items, { groupBy: 'owner', groups, folded: ['ines', 'tam', ''], hasMore: true }).map((line) => line.id)).toEqual([
      'group ines',
      'group mara',
      'A-1',
      'A-2',
    ])
    expect(listLines(items, { groupBy: 'owner', groups, folded: ['ines', 'tam', ''] }).slice(-2)).toEqual([
      { kind: 'group', id: 'group tam', value: 'tam', count: 3, isFolded: true },
      { kind: 'group', id: 'group ', value: '', count: 4, isFolded: true },
    ])
    expect(listLines(items, {}).map((line) => line.id)).toEqual(['A-1', 'A-2'])
  })

  test('folding takes away the items of the folded groups and nothing else; each line has an id of its own', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...owners)), fc.subarray(owners), (made, folded) => {
        const sorted = [...made].sort((one, other) => owners.indexOf(one) - owners.indexOf(other))
        const items = sorted.map((owner, at) => item(`A-${at}`, owner))
        const groups = owners
          .filter((owner) => made.includes(owner))
          .map((value) => ({ value, count: made.filter((owner) => owner === value).length }))
        const unfolded = listLines(items, { groupBy: 'owner', groups })
        const lines = listLines(
          items.filter((entry) => !folded.includes(entry.ownerId ?? '')),
          { groupBy: 'owner', groups, folded },
        )
        expect(lines.map((line) => line.id)).toEqual(
          unfolded.filter((line) => line.kind === 'group' || !folded.includes(line.item.ownerId ?? '')).map((line) => line.id),
        )
        expect(new Set(lines.map((line) => line.id)).size).toBe(lines.length)
      }),
    )
  })
})

describe('a calendar', () => {
  test('shows whole weeks from Monday, also over the end of the year and in a short month', () => {
    const november = weeksOf('2026-11')
    expect([november.length, november[0]?.[0], november.at(-1)?.at(-1)]).toEqual([6, '2026-10-26', '2026-12-06'])
    const february = weeksOf('2027-02')
    expect([february.length, february[0]?.[0], february.at(-1)?.at(-1)]).toEqual([4, '2027-02-01', '2027-02-28'])
    expect([addMonths('2026-12', 1), addMonths('2026-01', -1), addDays('2026-03-01', -1), addDays('2028-02-28', 1)]).toEqual([
      '2027-01',
      '2025-12',
      '2026-02-28',
      '2028-02-29',
    ])
  })

  test('holds each day of a month once, and seven days in each week', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1990, max: 2090 }), fc.integer({ min: 1, max: 12 }), (year, number) => {
        const month = `${year}-${String(number).padStart(2, '0')}`
        const days = weeksOf(month).flat()
        expect(days.length % 7).toBe(0)
        expect(new Set(days).size).toBe(days.length)
        expect(days.filter((day) => day.startsWith(month))).toHaveLength(new Date(Date.UTC(year, number, 0)).getUTCDate())
      }),
    )
  })

  test('leaves out what has no day', () => {
    const days = byDay(
      [
        { key: 'a', day: '2026-11-02' },
        { key: 'b', day: null },
        { key: 'c', day: '2026-11-02' },
      ],
      (thing) => thing.day,
    )
    expect([...days].map(([day, things]) => [day, things.map((thing) => thing.key)])).toEqual([['2026-11-02', ['a', 'c']]])
  })
})

describe('an outline', () => {
  const thing = (key: string, parentKey: string | null = null) => ({ key, parentKey })
  const lines = (things: { key: string; parentKey: string | null }[], folded: string[] = []) =>
    outlineRows(things, new Set(folded)).map(
      (row) => `${'.'.repeat(row.depth)}${row.thing.key}${row.partCount > 0 ? ` ${row.partCount}` : ''}`,
    )

  test('puts parts below what they are parts of, siblings in their order', () => {
    const things = [thing('b', 'a'), thing('x'), thing('a'), thing('d', 'b'), thing('c', 'a'), thing('lost', 'elsewhere')]
    expect(lines(things)).toEqual(['x', 'a 3', '.b 1', '..d', '.c', 'lost'])
    expect(lines(things, ['b'])).toEqual(['x', 'a 3', '.b 1', '.c', 'lost'])
    expect(lines(things, ['a', 'b'])).toEqual(['x', 'a 3', 'lost'])
  })

  test('shows each thing once whatever the parents are, loops included, and counts all that lie below', () => {
    const keys = ['a', 'b', 'c', 'd', 'e', 'f', 'g']
    const forest = fc.tuple(...keys.map((key) => fc.option(fc.constantFrom(...keys)).map((parentKey) => thing(key, parentKey))))
    fc.assert(
      fc.property(forest, (things) => {
        const rows = outlineRows(things, new Set())
        expect(rows.map((row) => row.thing.key).sort()).toEqual(keys)
        for (const [at, row] of rows.entries()) {
          const end = rows.findIndex((other, index) => index > at && other.depth <= row.depth)
          expect(row.partCount).toBe((end < 0 ? rows.length : end) - at - 1)
        }
      }),
    )
  })

  test('of a hundred thousand things one below the other does not overflow', () => {
    const chain = Array.from({ length: 3000 }, (_, at) => thing(`k${at}`, at === 0 ? null : `k${at - 1}`))
    expect(outlineRows(chain, new Set())).toHaveLength(3000)
  })
})

test.each([
  ['open relay "two words"', ['relay', 'two words']],
  ['relay not lamp (door or kiln)', ['relay', 'door', 'kiln']],
  ['colour=red', []],
])('the words that %j looks for are told', (filter, words) => {
  expect(filterWords(filter)).toEqual(words)
})

test.each([
  ['Kiln sharing', 'KS'],
  ['Glazes', 'GLA'],
  ['Öfen und Glasuren', 'OUG'],
  ['2nd floor kilns', 'FK'],
  ['窯', ''],
])('a prefix is proposed for %j', (name, prefix) => {
  expect(suggestPrefix(name)).toBe(prefix)
})
