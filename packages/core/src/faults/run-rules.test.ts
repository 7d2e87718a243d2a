import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { parseFilterBy } from '#filter/parse-filter'
import { FAULT_VOCABULARY } from './fault-filter.js'
import { type IntakeRule, PLAIN_DEED, type ReadRule } from './intake-rule.js'
import { firstMoment, type FaultHistory, runRules } from './run-rules.js'

const MINUTE_MS = 60_000
const DAY = 1440
/** A Wednesday, ten o'clock. */
const START = Math.floor(Date.UTC(2026, 9, 7, 10) / MINUTE_MS)

function ruleOf(parts: Partial<IntakeRule> = {}): ReadRule {
  const rule: IntakeRule = {
    ruleId: 'r',
    name: 'r',
    environmentKind: 'production',
    severityAtLeast: 'error',
    countAtLeast: 3,
    windowMs: 10 * MINUTE_MS,
    peopleAtLeast: 0,
    where: '',
    deed: PLAIN_DEED,
    perHour: null,
    perDay: null,
    goesOn: false,
    isDraft: false,
    ...parts,
  }
  const parsed = parseFilterBy(FAULT_VOCABULARY, rule.where)
  if ('error' in parsed) throw new Error(parsed.error.word)
  return { ...rule, filter: parsed.filter }
}

function faultOf(minutes: readonly (readonly [number, number])[], parts: Partial<FaultHistory> = {}): FaultHistory {
  return {
    number: 1,
    service: 'kiln-controller',
    repository: 'kiln',
    type: 'RangeError',
    message: 'lid 3 of 7 stands open',
    path: 'src/lid/hinge.ts',
    function: 'isOpen',
    place: 'isOpen@src/lid/hinge.ts',
    severityNumber: 17,
    firstAtMs: (minutes[0]?.[0] ?? START) * MINUTE_MS,
    lastBeforeMs: null,
    environments: [{ name: 'studio', kind: 'production', minutes }],
    releases: [],
    peopleMinutes: [],
    stands: [],
    ...parts,
  }
}

const EVER = { fromMs: 0, toMs: Number.MAX_SAFE_INTEGER }
const at = (minute: number) => (START + minute) * MINUTE_MS
const counts = (...pairs: [number, number][]) => pairs.map(([minute, count]) => [START + minute, count] as const)

describe('when a rule first holds', () => {
  test.each([
    ['three at once', counts([0, 3]), {}, 0],
    ['the third within the window', counts([0, 1], [4, 1], [9, 1]), {}, 9],
    ['not when the first is out of it', counts([0, 1], [6, 1], [11, 1]), {}, null],
    ['counted by whole minutes: the window may be a minute longer', counts([0, 1], [6, 1], [10, 1]), {}, 10],
    ['not in another environment', counts([0, 9]), { environmentKind: 'any' as const, where: 'environment=staging' }, null],
    ['an environment by its kind', counts([0, 9]), { where: 'environment=production' }, 0],
    ['not for something milder', counts([0, 9]), { severityAtLeast: 'fatal' as const }, null],
    ['once more people are hit', counts([0, 5], [3, 1]), { peopleAtLeast: 2 }, 3],
    ['by words of its message', counts([0, 3]), { where: 'message="lid*open" path!=src/labs/' }, 0],
    ['not by words that it lacks', counts([0, 3]), { where: 'message="open*lid"' }, null],
    ['from an hour of the day on', counts([0, 3], [70, 3]), { where: 'hour>=11' }, 70],
    ['on a day of the week', counts([0, 3], [DAY, 3]), { where: 'day=thu' }, DAY],
    ['in a release, as versions compare', counts([0, 3], [60, 3]), { where: 'release>=4.10' }, 60],
    ['of a release seen by then', counts([0, 3], [60, 3]), { where: 'release=4.9.2' }, 0],
    ['new for a day', counts([0, 1], [3 * DAY, 3]), { where: 'not new' }, 3 * DAY],
    ['returned after a week', counts([0, 3], [DAY, 3], [9 * DAY, 3]), { where: 'returned' }, 9 * DAY],
    ['with no item ever', counts([0, 3], [60, 3]), { where: 'untied' }, 0],
    ['while an item is open', counts([0, 3], [60, 3], [500, 3]), { where: 'open' }, 60],
    ['after its item was settled', counts([0, 3], [60, 3], [500, 3]), { where: 'settled' }, 500],
  ])('%s', (_name, minutes, parts, minute) => {
    const history = faultOf(minutes, {
      peopleMinutes: [START, START + 3],
      releases: [
        { release: '4.9.2', environment: 'studio', firstAtMs: at(0) },
        { release: '4.10.0', environment: 'studio', firstAtMs: at(30) },
      ],
      stands: [{ key: 'EMB-1', fromMs: at(40), untilMs: at(400) }],
    })
    expect(firstMoment(ruleOf(parts), history, EVER)?.atMs ?? null).toBe(minute === null ? null : at(minute))
  })

  test('a sudden rise over what the fault usually does', () => {
    const calm = Array.from({ length: 14 * 24 }, (_, hour) => [START + hour * 60, 4] as const)
    const risen = START + 14 * DAY
    const rule = ruleOf({ countAtLeast: 1, where: 'spike' })
    expect(firstMoment(rule, faultOf([...calm, [risen, 12]]), EVER)).toBeNull()
    expect(firstMoment(rule, faultOf([...calm, [risen, 40]]), EVER)).toMatchObject({ atMs: risen * MINUTE_MS })
  })

  test('equals a slow look at every minute', () => {
    const zMinutes = fc.uniqueArray(fc.tuple(fc.nat(200), fc.integer({ min: 1, max: 4 })), {
      selector: ([minute]) => minute,
      maxLength: 25,
    })
    fc.assert(
      fc.property(
        zMinutes,
        fc.array(fc.nat(200), { maxLength: 6 }),
        fc.nat(4),
        fc.integer({ min: 1, max: 30 }),
        (pairs, hit, people, window) => {
          const minutes = counts(...pairs).sort((a, b) => a[0] - b[0])
          const peopleMinutes = hit.map((minute) => START + minute).sort((a, b) => a - b)
          const rule = ruleOf({ countAtLeast: 5, windowMs: window * MINUTE_MS, peopleAtLeast: people, where: 'hour>=11 or people>=3' })
          const slow = minutes.find(([minute]) => {
            const within = minutes
              .filter(([other]) => other <= minute && other >= minute - window)
              .reduce((sum, [, count]) => sum + count, 0)
            const known = peopleMinutes.filter((other) => other <= minute).length
            return within >= 5 && known >= people && (new Date(minute * MINUTE_MS).getUTCHours() >= 11 || known >= 3)
          })
          expect(firstMoment(rule, faultOf(minutes, { peopleMinutes }), EVER)?.atMs ?? null).toBe(slow ? slow[0] * MINUTE_MS : null)
        },
      ),
    )
  })
})

describe('a run of rules', () => {
  const world = {
    ...EVER,
    hasFired: () => false,
    budgets: { logged: [], perHour: null, perDay: null },
    standing: [],
  }
  const many = (count: number, parts: (number: number) => Partial<FaultHistory> = () => ({})) =>
    Array.from({ length: count }, (_, number) =>
      faultOf(counts([number, 3]), { number: number + 1, place: `f${number}@a.ts`, ...parts(number) }),
    )
  const told = (rules: ReadRule[], histories: FaultHistory[], parts: Partial<typeof world> = {}) =>
    runRules(rules, histories, { ...world, ...parts }).map(({ ruleId, number, outcome }) => `${ruleId} ${number} ${outcome}`)

  test('logs each fault once, in the order of time; a draft does nothing', () => {
    expect(told([ruleOf(), ruleOf({ ruleId: 'draft', isDraft: true })], many(3).reverse())).toEqual([
      'r 1 logged',
      'r 2 logged',
      'r 3 logged',
    ])
    expect(told([ruleOf()], many(3), { hasFired: (_rule: string, number: number) => number === 2 } as never)).toEqual([
      'r 1 logged',
      'r 3 logged',
    ])
  })

  test('the first rule takes a fault, unless it says that the others are asked, too', () => {
    const silences = { ruleId: 's', deed: { ...PLAIN_DEED, act: 'silence' as const } }
    expect(told([ruleOf(), ruleOf(silences)], many(1))).toEqual(['r 1 logged'])
    expect(told([ruleOf({ goesOn: true }), ruleOf(silences)], many(1))).toEqual(['r 1 logged', 's 1 silenced'])
  })

  test('an incident is opened once for a fault, whether an item stands for it or not, and by no budget', () => {
    const opens = ruleOf({ deed: { ...PLAIN_DEED, act: 'incident' } })
    const budgets = { logged: [] as never[], perHour: 0 as never, perDay: null }
    expect(told([opens], many(2), { budgets })).toEqual(['r 1 incident', 'r 2 incident'])
  })

  test('beyond a budget of the rule or of the project faults are gathered', () => {
    expect(told([ruleOf({ perHour: 2 })], many(4))).toEqual(['r 1 logged', 'r 2 logged', 'r 3 gathered', 'r 4 gathered'])
    const inNextHour = many(4, (number) => ({ environments: [{ name: 'studio', kind: 'production', minutes: counts([number * 40, 3]) }] }))
    expect(told([ruleOf({ perHour: 2 })], inNextHour)).toEqual(['r 1 logged', 'r 2 logged', 'r 3 logged', 'r 4 logged'])
    expect(told([ruleOf({ perDay: 3 })], inNextHour)).toEqual(['r 1 logged', 'r 2 logged', 'r 3 logged', 'r 4 gathered'])
    const budgets = { logged: [{ ruleId: 'other', atMs: at(-5) }] as never[], perHour: 2 as never, perDay: null }
    expect(told([ruleOf()], many(2), { budgets })).toEqual(['r 1 logged', 'r 2 gathered'])
  })

  test('an open item at the same place of the code is tied where the rule says so', () => {
    const samePlace = many(2, () => ({ place: 'isOpen@src/lid/hinge.ts' }))
    expect(told([ruleOf()], samePlace)).toEqual(['r 1 logged', 'r 2 logged'])
    const rule = ruleOf({ deed: { ...PLAIN_DEED, tiesAlike: true } })
    expect(told([rule], samePlace)).toEqual(['r 1 logged', 'r 2 tied'])
    const standing = [{ service: 'kiln-controller', place: 'f0@a.ts', number: 99, key: 'EMB-7', fromMs: 0, untilMs: null }] as never[]
    expect(runRules([rule], many(1), { ...world, standing })).toMatchObject([{ outcome: 'tied', key: 'EMB-7' }])
  })

  test('no second item beside one that stands or stood; a raise and a word to people need an open one', () => {
    const settled = many(1, () => ({ stands: [{ key: 'EMB-1', fromMs: 0, untilMs: 1 }] }))
    const tells = ruleOf({ ruleId: 't', deed: { ...PLAIN_DEED, act: 'tell', tellIds: ['ines'] } })
    expect(told([ruleOf(), tells], settled)).toEqual([])
    const raises = ruleOf({ ruleId: 'up', deed: { ...PLAIN_DEED, act: 'raise', severity: 1 } })
    const tied = many(1, () => ({ stands: [{ key: 'EMB-1', fromMs: 0, untilMs: null }] }))
    expect(told([ruleOf(), raises], tied)).toEqual(['up 1 raised'])
    expect(told([ruleOf(), raises], many(1))).toEqual(['r 1 logged'])
  })

  test('a settled item is opened again once, the one that stood last; a remark needs an open one', () => {
    const reopens = ruleOf({ ruleId: 're', deed: { ...PLAIN_DEED, act: 'reopen' }, goesOn: true })
    const remarks = ruleOf({ ruleId: 'say', deed: { ...PLAIN_DEED, act: 'remark', remark: 'Again' } })
    const stands = [
      { key: 'EMB-1', fromMs: 0, untilMs: 2 },
      { key: 'EMB-2', fromMs: 0, untilMs: 5 },
    ]
    const settled = many(1, () => ({ stands }))
    expect(runRules([reopens, remarks], settled, world)).toMatchObject([
      { ruleId: 're', outcome: 'reopened', key: 'EMB-2' },
      { ruleId: 'say', outcome: 'remarked', key: 'EMB-2' },
    ])
    expect(told([remarks], settled)).toEqual([])
    expect(
      told(
        [reopens],
        many(1, () => ({ stands: [{ key: 'EMB-1', fromMs: 0, untilMs: null }] })),
      ),
    ).toEqual([])
    expect(told([reopens], many(1))).toEqual([])
  })

  test('gives the same in whatever order the faults are given, and never more in an hour than the budget', () => {
    const zWorld = fc.array(fc.tuple(fc.nat(180), fc.integer({ min: 1, max: 5 })), { minLength: 1, maxLength: 30 })
    fc.assert(
      fc.property(zWorld, fc.integer({ min: 1, max: 4 }), (faults, perHour) => {
        const histories = faults.map(([minute, count], number) => faultOf(counts([minute, count]), { number, place: null }))
        const rules = [ruleOf({ perHour }), ruleOf({ ruleId: 'few', countAtLeast: 1, perHour: 2 })]
        const firings = runRules(rules, histories, world)
        expect(runRules(rules, [...histories].reverse(), world)).toEqual(firings)
        const logged = firings.filter((firing) => firing.outcome === 'logged' && firing.ruleId === 'r')
        for (const { atMs } of logged)
          expect(logged.filter((other) => other.atMs > atMs - 60 * MINUTE_MS && other.atMs <= atMs).length).toBeLessThanOrEqual(perHour)
      }),
    )
  })
})
