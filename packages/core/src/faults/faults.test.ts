import { describe, expect, test } from '@jest/globals'
import { isUnchanging, FAULT_VOCABULARY, namesFlag } from './fault-filter.js'
import { holds } from '#filter/compare-values'
import { isSilent, stateOf } from './fault-state.js'
import { NO_STAND, type FaultStand, type Silence } from './fault-stand.js'
import { proposeThreshold, type JudgedFiring } from './propose-threshold.js'
import { spikeAt } from './spike.js'
import { completeFilter } from '#filter/complete-filter'
import { parseFilterBy } from '#filter/parse-filter'
import { printFilter } from '#filter/print-filter'
import { zIntakeRule } from './intake-wire.js'

const DAY_MS = 86_400_000

describe('conditions on faults', () => {
  const read = (text: string) => parseFilterBy(FAULT_VOCABULARY, text)

  test('are read in the grammar of filters with words of their own, and printed back', () => {
    const parsed = read('service=kiln (severity>=error or people>3) not path=src/labs/ spike')
    if ('error' in parsed) throw new Error(parsed.error.word)
    expect(printFilter(parsed.filter)).toBe('service=kiln (severity>=error or people>3) not path=src/labs/ spike')
    expect(read('owner=ines')).toEqual({ error: { code: 'unknown-field', from: 0, to: 5, word: 'owner' } })
    expect(read('severity>=loud')).toMatchObject({ error: { code: 'wrong-value', word: 'loud' } })
  })

  test('know what changes with time', () => {
    const filterOf = (text: string) => {
      const parsed = read(text)
      if ('error' in parsed) throw new Error(text)
      return parsed.filter
    }
    expect(isUnchanging(filterOf('service=kiln (type=Range or not "gas valve")'))).toBe(true)
    for (const text of ['people>2', 'service=kiln new', 'not (hour>8)']) expect(isUnchanging(filterOf(text))).toBe(false)
    expect(namesFlag(filterOf('service=kiln or not (spike)'), 'spike')).toBe(true)
    expect(namesFlag(filterOf('service=kiln or new'), 'spike')).toBe(false)
  })

  test('are completed while they are typed', () => {
    const offered = (text: string) =>
      completeFilter(text, text.length, { service: ['kiln'] }, FAULT_VOCABULARY).options.map(({ text }) => text)
    expect(offered('se')).toEqual(['settled', 'service=', 'severity=', 'release='])
    expect(offered('service=k')).toEqual(['kiln'])
    expect(offered('severity>=e')).toEqual(['error'])
  })

  test.each([
    ['a text', 'gas VALVE stuck', 'valve', true],
    ['pieces in their order', 'gas valve stuck open', 'gas*open', true],
    ['not out of order', 'gas valve stuck open', 'open*gas', false],
    ['pieces that do not overlap', 'aa', 'aa*a', false],
  ])('hold %s', (_name, text, wanted, is) => expect(holds(text, wanted)).toBe(is))

  test('a rule with a condition that is not understood says where', () => {
    const rule = { name: 'r', countAtLeast: 1, windowMinutes: 5 }
    expect(zIntakeRule.safeParse({ ...rule, where: 'service=kiln colour=red' }).error?.issues[0]).toMatchObject({
      path: ['where'],
      message: '“colour” is not understood here (character 14)',
    })
    expect(zIntakeRule.safeParse({ ...rule, deed: { act: 'raise' } }).error?.issues[0]?.path).toEqual(['deed', 'severity'])
    expect(zIntakeRule.safeParse({ ...rule, deed: { act: 'tell' } }).error?.issues[0]?.path).toEqual(['deed', 'tellIds'])
  })
})

describe('a spike', () => {
  // Recorded by hour over four weeks: studios fire from eight to eighteen on working days.
  const series = new Map<number, number>()
  const start = Math.floor(Date.UTC(2026, 8, 7) / 3_600_000)
  for (let hour = 0; hour < 28 * 24; hour++) {
    const [day, ofDay] = [Math.floor(hour / 24) % 7, hour % 24]
    if (day < 5 && ofDay >= 8 && ofDay < 18) series.set(start + hour, 30 + ((hour * 7) % 11))
  }
  const monday = start + 28 * 24
  const seen = (hour: number, count: number) => spikeAt((other) => (other === hour ? count : (series.get(other) ?? 0)), start, hour)

  test('is what stands out from the same hours of such days, and says its numbers', () => {
    expect(seen(monday + 10, 45)).toBeNull()
    expect(seen(monday + 10, 120)).toMatchObject({ seen: 120, expected: 35 })
    expect(seen(monday + 3, 12)).toMatchObject({ seen: 12, expected: 0 })
    // What is usual on a Monday is not on a Sunday.
    expect(seen(monday - 24 + 10, 40)).toMatchObject({ expected: 0 })
  })

  test('earlier spikes do not hide one', () => {
    for (let day = 3; day < 28; day += 7) series.set(start + day * 24 + 10, 900)
    expect(seen(monday + 10, 120)).toMatchObject({ seen: 120, expected: 36 })
  })

  test('is said of nothing that is too young or too rare', () => {
    expect(spikeAt((hour) => (hour === 20 ? 500 : 0), 0, 20)).toBeNull()
    expect(spikeAt((hour) => (hour === 100 ? 7 : 0), 0, 100)).toBeNull()
    expect(spikeAt((hour) => (hour === 100 ? 9 : 0), 0, 100)).toMatchObject({ seen: 9, expected: 0, hours: 100 })
  })
})

describe('a silence', () => {
  const silence: Silence = { sinceMs: 0, sinceCount: 10, untilMs: null, moreTimes: null, release: null, untilSpike: false, reason: '' }
  const now = { nowMs: 5000, count: 14, releases: ['4.1.0', ''], isSpike: () => false }

  test.each([
    ['holds until a person ends it', {}, {}, true],
    ['ends with its time', { untilMs: 5000 }, {}, false],
    ['holds before', { untilMs: 5001 }, {}, true],
    ['ends once it occurred so often', { moreTimes: 4 }, {}, false],
    ['ends with a release', { release: '4.1' }, {}, false],
    ['not with an older one', { release: '4.2' }, {}, true],
    ['ends with a spike', { untilSpike: true }, { isSpike: () => true }, false],
    ['ends with whatever comes first', { untilMs: 9000, moreTimes: 2 }, {}, false],
  ])('%s', (_name, parts, known, is) => expect(isSilent({ ...silence, ...parts }, { ...now, ...known })).toBe(is))

  test('none is none', () => expect(isSilent(null, now)).toBe(false))
})

describe('how a fault stands', () => {
  const nowMs = 100 * DAY_MS
  const fault = { firstAtMs: nowMs - 30 * DAY_MS, lastAtMs: nowMs - 1000, lastBeforeMs: null, hasComeBack: false, spike: null }
  const spike = { seen: 50, expected: 2, from: 10, hours: 100 }
  const now = { nowMs, count: 20, releases: ['4.1.0'], isSpike: () => false }
  const fixedIn = (release: string): Partial<FaultStand> => ({ judgement: { kind: 'fixed', release, reason: '' } })
  const silenced: Partial<FaultStand> = {
    silence: { sinceMs: 0, sinceCount: 0, untilMs: null, moreTimes: null, release: null, untilSpike: false, reason: '' },
  }

  test.each([
    ['continuing', {}, {}],
    ['new', { firstAtMs: nowMs - 1000 }, {}],
    ['quiet', { lastAtMs: nowMs - 8 * DAY_MS }, {}],
    ['returned', { lastBeforeMs: nowMs - 20 * DAY_MS }, {}],
    ['spike', { spike }, {}],
    ['came-back', { hasComeBack: true, spike }, {}],
    ['silenced', { spike }, silenced],
    ['fixed', {}, fixedIn('4.2.0')],
    ['came-back', {}, fixedIn('4.1.0')],
    ['not-ours', { spike }, { judgement: { kind: 'not-ours' as const, release: null, reason: 'the host' } }],
  ])('%s', (state, parts, stand) => expect(stateOf({ ...fault, ...parts }, { ...NO_STAND, ...stand }, now)).toBe(state))
})

describe('what a rule could ask for', () => {
  const firing = (judgement: JudgedFiring['judgement'], people: number, count = 5): JudgedFiring => ({ judgement, people, count })

  test('is the threshold that keeps most of what was rejected away, and nothing that was taken', () => {
    const firings = [
      firing('rejected', 1),
      firing('rejected', 2),
      firing('rejected', 2),
      firing('rejected', 9),
      firing('taken', 3),
      firing('taken', 8),
    ]
    expect(proposeThreshold(firings)).toEqual({
      what: 'people',
      atLeast: 3,
      rejectedAvoided: 3,
      rejected: 4,
      takenLost: 0,
      taken: 2,
    })
  })

  test('is nothing where too little was rejected, or nothing tells them apart', () => {
    expect(proposeThreshold([firing('rejected', 1), firing('rejected', 1), firing('taken', 5)])).toBeNull()
    expect(proposeThreshold([firing('rejected', 4), firing('rejected', 4), firing('rejected', 4), firing('taken', 1)])).toBeNull()
  })
})
