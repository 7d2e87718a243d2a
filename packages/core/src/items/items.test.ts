import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { parseReferences } from '#text/references'
import { deedsOf, mentionsIn } from '#talk/comment-deeds'
import { fieldUseOf } from '#setup/field-use'
import { STANDARD_TYPES, zItemTypeDefinition } from '#setup/item-type'
import { isSafeLink, whyNotOwnValue, zOwnField, type OwnValue } from '#setup/own-field'
import { missingFor } from '#setup/stage-rule'
import { sumTimes, TIME_GROUPS, weekOf, type TimeBooking } from '#talk/time-sums'
import { undoChanges } from '#undo/undo-changes'

const PEOPLE = [
  { personId: 'ines', name: 'Ines Okafor' },
  { personId: 'rafe', name: 'Rafe Varga' },
  { personId: 'ines2', name: 'Ines Arden' },
]
const prefixes = { items: new Set(['EMB']), requirements: new Set(['SAF']) }

describe('trailers of a comment', () => {
  test('become deeds, in order', () => {
    const refs = parseReferences('Mine.\n\nOwner: Rafe\nSeverity: 2\nLabel: safety, firmware\nDue: 2026-12-01\nTime: 1h 30m', prefixes)
    expect(deedsOf(refs, PEOPLE)).toEqual({
      deeds: [
        { kind: 'owner', personId: 'rafe', name: 'Rafe Varga' },
        { kind: 'severity', value: 2 },
        { kind: 'label', label: 'safety' },
        { kind: 'label', label: 'firmware' },
        { kind: 'due', on: '2026-12-01' },
        { kind: 'time', minutes: 90, on: null },
      ],
      refused: [],
    })
  })

  test.each([
    ['Owner: nobody-here', 'no-such-person'],
    ['Severity: 9', 'not-a-severity'],
    ['Due: 2026-02-30', 'not-a-day'],
    ['Due: soon', 'not-a-day'],
    [`Label: ${'x'.repeat(41)}`, 'too-long'],
    ['Time: 900h', 'too-much-time'],
  ])('%s does nothing, and says why', (line, code) => {
    const { deeds, refused } = deedsOf(parseReferences(`Text\n\n${line}`, prefixes), PEOPLE)
    expect(deeds).toEqual([])
    expect(refused.map((entry) => entry.code)).toEqual([code])
  })

  test('a first name that two share names nobody; an id always does', () => {
    expect(deedsOf(parseReferences('x\n\nOwner: Ines', prefixes), PEOPLE).deeds).toEqual([
      { kind: 'owner', personId: 'ines', name: 'Ines Okafor' },
    ])
    expect(
      deedsOf(
        parseReferences('x\n\nOwner: Ines', prefixes),
        PEOPLE.map((person) => ({ ...person, personId: `p-${person.personId}` })),
      ).refused,
    ).toHaveLength(1)
  })

  test('people are mentioned by @id, not by addresses', () => {
    expect(mentionsIn('@ines and @Rafe, mail x@rafe or @nobody', PEOPLE)).toEqual(['ines', 'rafe'])
  })
})

describe('own fields', () => {
  const field = (kind: string, choices: string[] = []) => zOwnField.parse({ fieldId: 'x', name: 'X', kind, choices })
  test.each<[string, string[], OwnValue, boolean]>([
    ['text', [], 'words', true],
    ['text', [], 3, false],
    ['number', [], 3.5, true],
    ['number', [], '3', false],
    ['date', [], '2026-02-28', true],
    ['date', [], '2026-02-29', false],
    ['one-of', ['a', 'b'], 'a', true],
    ['one-of', ['a', 'b'], 'c', false],
    ['several-of', ['a', 'b'], ['a', 'b'], true],
    ['several-of', ['a', 'b'], ['a', 'c'], false],
    ['person', [], 'ines', true],
    ['person', [], 'nobody', false],
    ['link', [], 'https://emberwick.example/a', true],
    ['link', [], 'javascript:alert(1)', false],
  ])('%s %j takes %j: %s', (kind, choices, value, fits) => {
    expect(whyNotOwnValue(field(kind, choices), value, (id) => id === 'ines') === null).toBe(fits)
  })

  test('every kind can be cleared', () => {
    for (const kind of ['text', 'number', 'date', 'one-of', 'several-of', 'person', 'link'])
      expect(whyNotOwnValue(field(kind), null, () => false)).toBeNull()
  })

  test('no script, data or file address is a link', () => {
    for (const text of [
      'javascript:alert(1)',
      'JAVASCRIPT:x',
      'data:text/html,x',
      'file:///etc/passwd',
      ' https://x',
      'https://',
      'vbscript:x',
    ])
      expect(isSafeLink(text)).toBe(false)
  })
})

describe('types and rules', () => {
  test('the standard types are valid, and hide what does not belong to them', () => {
    for (const type of STANDARD_TYPES) expect(zItemTypeDefinition.parse(type)).toEqual(type)
    expect(
      fieldUseOf(
        STANDARD_TYPES.find((type) => type.type === 'story'),
        'severity',
      ),
    ).toBe('hidden')
    expect(fieldUseOf(undefined, 'severity')).toBe('shown')
  })

  test('a rule names what is still empty, in its own order', () => {
    const rule = { stage: 'accepted', needs: ['owner', 'milestone', 'labels'] }
    expect(missingFor(rule, { owner: 'ines', milestone: '', labels: [] })).toEqual(['milestone', 'labels'])
    expect(missingFor(rule, { owner: 'ines', milestone: '4.2', labels: ['x'] })).toEqual([])
  })
})

const bookings = fc.array(
  fc.record({
    itemKey: fc.constantFrom('EMB-1', 'EMB-2', 'EMB-3'),
    personId: fc.constantFrom('ines', 'rafe'),
    milestone: fc.constantFrom(null, '4.1', '4.2'),
    minutes: fc.integer({ min: -600, max: 600 }),
    on: fc
      .date({ min: new Date('2020-01-01'), max: new Date('2030-12-31'), noInvalidDate: true })
      .map((date) => date.toISOString().slice(0, 10)),
  }),
)

describe('sums of time', () => {
  test('add up to the same total by any key', () => {
    fc.assert(
      fc.property(bookings, (list: TimeBooking[]) => {
        const total = list.reduce((sum, booking) => sum + booking.minutes, 0)
        for (const by of TIME_GROUPS) expect(sumTimes(list, by).reduce((sum, entry) => sum + entry.minutes, 0)).toBe(total)
      }),
    )
  })

  test.each([
    ['2026-01-01', '2026-W01'],
    ['2027-01-01', '2026-W53'],
    ['2024-12-30', '2025-W01'],
    ['2026-11-25', '2026-W48'],
  ])('%s is in week %s', (day, week) => {
    expect(weekOf(day)).toBe(week)
  })
})

describe('undo', () => {
  const values = fc.dictionary(
    fc.constantFrom('title', 'severity', 'labels'),
    fc.oneof(fc.string(), fc.integer(), fc.constant(null), fc.array(fc.string())),
  )
  test('restores what was there, and the undo of an undo gives the change again', () => {
    fc.assert(
      fc.property(values, values, (before, after) => {
        const fields = [...new Set([...Object.keys(before), ...Object.keys(after)])]
        const changes = Object.fromEntries(fields.map((field) => [field, { from: before[field] ?? null, to: after[field] ?? null }]))
        const undone = undoChanges(changes, after)
        if ('changedSince' in undone) throw new Error('nothing was changed since')
        for (const field of fields) expect(undone.inverse[field]?.to ?? null).toEqual(before[field] ?? null)
        expect(undoChanges(undone.inverse, before)).toEqual({ inverse: changes })
      }),
    )
  })

  test('is refused where the value moved on', () => {
    expect(undoChanges({ title: { from: 'a', to: 'b' } }, { title: 'c' })).toEqual({ changedSince: 'title' })
  })
})
