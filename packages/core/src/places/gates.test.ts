import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { judgeGates, type PlaceFacts, type PlaceGate, zPlaceGate } from './gates.js'

const HOUR_MS = 3_600_000
/** A Wednesday, 10:30 in Berlin. */
const NOW_MS = Date.parse('2026-11-25T09:30:00Z')
const someFacts = (given: Partial<PlaceFacts> = {}): PlaceFacts => ({
  nowMs: NOW_MS,
  before: { environment: 'staging', sinceMs: NOW_MS - 30 * HOUR_MS, ranMs: 30 * HOUR_MS, units: 500, newFaults: 0 },
  build: 'passed',
  openBySeverity: [],
  agreed: [],
  authors: new Set(),
  checked: new Set(),
  ...given,
})
const judged = (gate: PlaceGate, given: Partial<PlaceFacts> = {}) => {
  const [{ isMet, words } = { isMet: false, words: '' }] = judgeGates([gate], someFacts(given))
  return [isMet, words]
}

describe('a gate of a place', () => {
  test('lets a release soak: time, work, and no new fault where it ran before', () => {
    const gate: PlaceGate = { kind: 'soak', hours: 24, units: 100 }
    const before = { environment: 'staging', sinceMs: NOW_MS, ranMs: 30 * HOUR_MS, units: 500, newFaults: 0 }
    expect(judged(gate)).toEqual([true, 'ran 30 h in staging without a new fault'])
    expect(judged(gate, { before: { ...before, ranMs: 5.9 * HOUR_MS, units: 7, newFaults: 2 } })).toEqual([
      false,
      'ran 5 of 24 h in staging, did 7 of 100 pieces of work there, failed there in 2 new ways',
    ])
    expect(judged(gate, { before: { ...before, newFaults: 1 } })).toEqual([false, 'failed there in a new way'])
    expect(judged(gate, { before: { ...before, sinceMs: null } })).toEqual([false, 'has not run in staging'])
    expect(judged(gate, { before: null })).toEqual([true, 'there is no place before it'])
  })

  test('asks for the build of its commit', () => {
    expect(judged({ kind: 'build' })).toEqual([true, 'its build passed'])
    expect(judged({ kind: 'build' }, { build: 'broke' })).toEqual([false, 'its build broke'])
    expect(judged({ kind: 'build' }, { build: null })).toEqual([false, 'no build of its commit was reported'])
  })

  test('counts what is open and so severe, or worse', () => {
    const openBySeverity = [
      { severity: 1, count: 1 },
      { severity: 2, count: 3 },
      { severity: 3, count: 9 },
    ]
    expect(judged({ kind: 'severity', atLeast: 1 }, { openBySeverity })).toEqual([false, '1 open of severity 1'])
    expect(judged({ kind: 'severity', atLeast: 2 }, { openBySeverity })).toEqual([false, '4 open of severity 1 to 2'])
    expect(judged({ kind: 'severity', atLeast: 1 }, { openBySeverity: openBySeverity.slice(1) })).toEqual([
      true,
      'nothing open of severity 1',
    ])
  })

  test('counts who agreed, wrote none of it, and is among those named', () => {
    const gate: PlaceGate = { kind: 'agreed', people: 2, among: ['ines', 'noor', 'rafe'] }
    expect(judged(gate, { agreed: ['ines', 'noor'] })).toEqual([true, '2 of 2 agreed'])
    expect(judged(gate, { agreed: ['ines', 'noor'], authors: new Set(['noor']) })).toEqual([false, '1 of 2 agreed'])
    expect(judged(gate, { agreed: ['ines', 'teo'] })).toEqual([false, '1 of 2 agreed'])
    expect(judged({ ...gate, among: [] }, { agreed: ['ines', 'teo'] })).toEqual([true, '2 of 2 agreed'])
  })

  test('opens on days and at times of its own zone, over midnight too', () => {
    const gate: PlaceGate = { kind: 'window', days: [1, 2, 3, 4], from: '10:00', to: '16:00', timeZone: 'Europe/Berlin' }
    expect(judged(gate)).toEqual([true, 'it is Mon, Tue, Wed, Thu 10:00 to 16:00'])
    expect(judged({ ...gate, timeZone: 'UTC' })).toEqual([false, 'only Mon, Tue, Wed, Thu 10:00 to 16:00 (UTC)'])
    expect(judged({ ...gate, days: [5] })[0]).toBe(false)
    expect(judged({ ...gate, from: '22:00', to: '11:00' })[0]).toBe(true)
    expect(judged({ ...gate, from: '22:00', to: '10:30' })[0]).toBe(false)
  })

  test('is frozen on the days between, both included, by the calendar of its zone', () => {
    const gate: PlaceGate = { kind: 'freeze', from: '2026-11-20', to: '2026-11-25', why: 'stock is counted', timeZone: 'UTC' }
    expect(judged(gate)).toEqual([false, 'frozen until 2026-11-25: stock is counted'])
    expect(judged({ ...gate, to: '2026-11-24' })).toEqual([true, 'no freeze today'])
    expect(judged({ ...gate, from: '2026-11-26', to: '2026-11-27' })[0]).toBe(true)
    expect(
      judged({ ...gate, from: '2026-11-26', to: '2026-11-27', timeZone: 'Pacific/Kiritimati' }, { nowMs: NOW_MS + 2 * HOUR_MS })[0],
    ).toBe(false)
  })

  test('asks for somebody who looked', () => {
    const gate: PlaceGate = { kind: 'check', words: 'the limiter opens' }
    expect(judged(gate)).toEqual([false, 'the limiter opens'])
    expect(judged(gate, { checked: new Set(['the limiter opens']) })).toEqual([true, 'the limiter opens'])
  })

  test('is refused where it says nothing, or of a zone that is none', () => {
    const fits = (gate: object) => zPlaceGate.safeParse(gate).success
    expect(fits({ kind: 'window', days: [1], from: '09:00', to: '24:00', timeZone: 'UTC' })).toBe(false)
    expect(fits({ kind: 'window', days: [], from: '09:00', to: '10:00', timeZone: 'UTC' })).toBe(false)
    expect(fits({ kind: 'window', days: [1], from: '09:00', to: '10:00', timeZone: 'Kiln/One' })).toBe(false)
    expect(fits({ kind: 'check', words: ' ' })).toBe(false)
    expect(fits({ kind: 'agreed', people: 0, among: [] })).toBe(false)
  })
})

test('who agrees more, soaks longer or works more never loses a gate that held', () => {
  const zFacts = fc.record({
    ranMs: fc.integer({ min: 0, max: 100 * HOUR_MS }),
    units: fc.integer({ min: 0, max: 1000 }),
    agreed: fc.uniqueArray(fc.constantFrom('ines', 'noor', 'rafe', 'teo')),
  })
  const gates: PlaceGate[] = [
    { kind: 'soak', hours: 24, units: 100 },
    { kind: 'agreed', people: 2, among: ['ines', 'noor', 'rafe'] },
  ]
  fc.assert(
    fc.property(zFacts, zFacts, (one, other) => {
      const factsOf = ({ ranMs, units, agreed }: typeof one) =>
        someFacts({ agreed, before: { environment: 'staging', sinceMs: 0, ranMs, units, newFaults: 0 } })
      const more = {
        ranMs: Math.max(one.ranMs, other.ranMs),
        units: Math.max(one.units, other.units),
        agreed: [...new Set([...one.agreed, ...other.agreed])],
      }
      for (const [at, { isMet }] of judgeGates(gates, factsOf(one)).entries())
        if (isMet) expect(judgeGates(gates, factsOf(more))[at]?.isMet).toBe(true)
    }),
  )
})

test('each gate is judged in its place, with words for whoever waits', () => {
  const gates: PlaceGate[] = [{ kind: 'check', words: 'the door shuts' }, { kind: 'build' }, { kind: 'check', words: 'the limiter opens' }]
  const rows = judgeGates(gates, someFacts({ checked: new Set(['the limiter opens']) }))
  expect(rows.map(({ kind, isMet }) => [kind, isMet])).toEqual([
    ['check', false],
    ['build', true],
    ['check', true],
  ])
  for (const { words } of rows) expect(words).not.toBe('')
})
