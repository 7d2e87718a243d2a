import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { wasTaken } from './decision.js'
import {
  firstGuess,
  guessSeverityFromAlike,
  guessSeverityFromComponent,
  guessSeverityFromFault,
  guessSeverityFromTitle,
} from './guess-severity.js'
import { rankWaiting, reasonsOf, urgencyOf, type Waiting } from './rank.js'
import { routeItem, zRoutingRule, type RoutedFacts } from '#routing/routing'

const aWaiting = (fields: Partial<Waiting> = {}): Waiting => ({
  key: 'EMB-1',
  severity: 3,
  hasComeBack: false,
  isAnswered: false,
  peopleHit: 0,
  occurrences: 0,
  newIn: null,
  waitedMs: 0,
  ...fields,
})
const waiting: fc.Arbitrary<Waiting> = fc.record({
  key: fc.integer({ min: 1, max: 500 }).map((number) => `EMB-${number}`),
  severity: fc.integer({ min: 1, max: 5 }),
  hasComeBack: fc.boolean(),
  isAnswered: fc.boolean(),
  peopleHit: fc.nat(10_000),
  occurrences: fc.nat(1_000_000),
  newIn: fc.option(fc.constant('kiln@4.1.4')),
  waitedMs: fc.nat(90 * 86_400_000),
})

describe('order of the queue', () => {
  test('more evidence never sinks an item', () => {
    fc.assert(
      fc.property(waiting, (item) => {
        const before = urgencyOf(item)
        expect(urgencyOf({ ...item, hasComeBack: true })).toBeGreaterThanOrEqual(before)
        expect(urgencyOf({ ...item, isAnswered: true })).toBeGreaterThanOrEqual(before)
        expect(urgencyOf({ ...item, peopleHit: item.peopleHit + 1 })).toBeGreaterThan(before)
        expect(urgencyOf({ ...item, occurrences: item.occurrences + 1 })).toBeGreaterThan(before)
        expect(urgencyOf({ ...item, waitedMs: item.waitedMs + 86_400_000 })).toBeGreaterThanOrEqual(before)
        if (item.severity > 1) expect(urgencyOf({ ...item, severity: item.severity - 1 })).toBeGreaterThan(before)
      }),
    )
  })

  test('the order does not depend on the order in which items arrived', () => {
    fc.assert(
      fc.property(fc.uniqueArray(waiting, { selector: (item) => item.key, maxLength: 30 }), (items) => {
        const keys = (list: Waiting[]) => rankWaiting(list).map((item) => item.key)
        expect(keys([...items].reverse())).toEqual(keys(items))
      }),
    )
  })

  test('age alone does not lift a 4 above a 2, a crowd alone not a 3 above a 1', () => {
    expect(urgencyOf(aWaiting({ severity: 4, waitedMs: 900 * 86_400_000 }))).toBeLessThan(urgencyOf(aWaiting({ severity: 2 })))
    expect(urgencyOf(aWaiting({ severity: 3, peopleHit: 200 }))).toBeLessThan(urgencyOf(aWaiting({ severity: 1 })))
  })

  test('the reasons name what lifted it, what came back first', () => {
    expect(reasonsOf(aWaiting({ severity: 1, hasComeBack: true, peopleHit: 19, newIn: 'kiln@4.1.4', waitedMs: 3 * 86_400_000 }))).toEqual([
      { code: 'came-back' },
      { code: 'severity', severity: 1 },
      { code: 'people', count: 19 },
      { code: 'new-in', release: 'kiln@4.1.4' },
      { code: 'waits', days: 3 },
    ])
  })
})

describe('guess of severity', () => {
  test.each([
    ['Kiln kept heating after the firing ended', 1],
    ['Card charged twice for October', 1],
    ['Planner crashes when a firing crosses midnight', 2],
    ['Typo in the reminder', 4],
  ])('“%s” is a %i, with the word', (title, severity) => {
    const guess = guessSeverityFromTitle(title)
    expect(guess?.severity).toBe(severity)
    expect(guess?.reason).toMatchObject({ code: 'words' })
  })

  test('nothing said is nothing guessed; then look-alikes and the component speak', () => {
    expect(guessSeverityFromTitle('Newcomers jump the line')).toBeNull()
    expect(guessSeverityFromAlike([{ key: 'EMB-1', severity: 2 }])).toBeNull()
    expect(guessSeverityFromAlike([2, 5, 2].map((severity, index) => ({ key: `EMB-${index}`, severity })))?.severity).toBe(2)
    expect(guessSeverityFromComponent('Billing', [0, 1, 1, 0, 0])).toBeNull()
    expect(guessSeverityFromComponent('Billing', [0, 1, 1, 4, 0])?.severity).toBe(4)
    expect(firstGuess(null, null)).toEqual({ severity: 3, reason: { code: 'no-sign' } })
  })

  test('a fault outside production is no more than a 3', () => {
    expect(guessSeverityFromFault({ isInProduction: false, occurrences: 9999, peopleHit: 999 }).severity).toBe(3)
    expect(guessSeverityFromFault({ isInProduction: true, occurrences: 4, peopleHit: 2 }).severity).toBe(2)
    expect(guessSeverityFromFault({ isInProduction: true, occurrences: 40, peopleHit: 26 }).severity).toBe(1)
  })
})

describe('routing', () => {
  const facts: RoutedFacts = {
    title: 'Relay sticks',
    text: 'Heard it click.',
    component: null,
    labels: ['member-reported'],
    paths: ['src/relay.js'],
    ownerId: null,
    severity: null,
    milestone: null,
    priority: null,
  }
  const rule = (ruleId: string, conditions: object, sets: object) => zRoutingRule.parse({ ruleId, name: ruleId, conditions, sets })

  test('words, paths, labels and the component that an earlier rule set all decide', () => {
    expect(
      routeItem(
        [
          rule('by-path', { paths: ['src/rel'] }, { component: 'Kiln control' }),
          rule('by-component', { components: ['Kiln control'] }, { ownerId: 'ines', labels: ['safety', 'member-reported'] }),
          rule('too-late', { words: ['relay sticks'] }, { ownerId: 'rafe', severity: 2 }),
          rule('not-this', { words: ['lay'] }, { milestone: '4.2' }),
          rule('not-both', { labels: ['member-reported'], words: ['door'] }, { milestone: '4.2' }),
        ],
        facts,
      ),
    ).toEqual([
      { ruleId: 'by-path', changes: { component: 'Kiln control' } },
      { ruleId: 'by-component', changes: { ownerId: 'ines', labels: ['member-reported', 'safety'] } },
      { ruleId: 'too-late', changes: { severity: 2 } },
    ])
  })

  test('what a person filled stays', () => {
    expect(routeItem([rule('r', { words: ['relay'] }, { severity: 1 })], { ...facts, severity: 4 })).toEqual([])
  })

  test('a rule without a condition or without a deed is refused', () => {
    expect(zRoutingRule.safeParse({ ruleId: 'r', name: 'r', conditions: {}, sets: { severity: 2 } }).success).toBe(false)
    expect(zRoutingRule.safeParse({ ruleId: 'r', name: 'r', conditions: { words: ['x'] }, sets: {} }).success).toBe(false)
  })
})

test('a proposal was right when the decision chose it, and nothing is said where none stood', () => {
  expect(wasTaken('ownerId', 'accept', { ownerId: 'ines' }, { ownerId: 'ines' })).toBe(true)
  expect(wasTaken('ownerId', 'accept', { ownerId: 'ines' }, { ownerId: null })).toBe(false)
  expect(wasTaken('ownerId', 'reject', { ownerId: 'ines' }, {})).toBeNull()
  expect(wasTaken('ownerId', 'accept', {}, { ownerId: 'ines' })).toBeNull()
  expect(wasTaken('sameAs', 'same-as', { sameAs: 'EMB-1' }, { sameAs: 'EMB-1' })).toBe(true)
  expect(wasTaken('sameAs', 'accept', { sameAs: 'EMB-1' }, {})).toBe(false)
})
