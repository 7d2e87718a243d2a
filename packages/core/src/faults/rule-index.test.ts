import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { parseFilterBy } from '#filter/parse-filter'
import { FAULT_VOCABULARY, type FaultFacts, meetsFaultFilter } from './fault-filter.js'
import { PLAIN_DEED, type ReadRule } from './intake-rule.js'
import { RuleIndex } from './rule-index.js'

const ruleOf = (where: string, at: number): ReadRule => {
  const parsed = parseFilterBy(FAULT_VOCABULARY, where)
  if (!('filter' in parsed)) throw new Error(`not understood: ${where}`)
  return {
    ruleId: `rule-${at}`,
    name: where,
    environmentKind: 'production',
    severityAtLeast: 'error',
    countAtLeast: 1,
    windowMs: 60_000,
    peopleAtLeast: 0,
    where,
    deed: PLAIN_DEED,
    perHour: null,
    perDay: null,
    goesOn: true,
    isDraft: false,
    filter: parsed.filter,
  }
}
const factsOf = (given: Partial<FaultFacts> = {}): FaultFacts => ({
  service: 'kiln',
  repository: 'kiln',
  type: 'RangeError',
  message: 'no reading',
  path: 'src/probe.js',
  function: 'readCelsius',
  severityNumber: 17,
  environment: 'production',
  environmentKind: 'production',
  atMs: 1_790_000_000_000,
  releases: ['4.1.3'],
  people: 3,
  isFlagged: () => true,
  ...given,
})
const named = (rules: readonly ReadRule[], places: readonly number[]) => places.map((place) => rules[place]?.where)

test('rules that cannot hold are left out by what they ask of a trait, the others keep their order', () => {
  const wheres = [
    'service=planner',
    'new',
    'service=kiln path=src/relay',
    'service=kiln path=src/probe',
    'not service=planner',
    'severity>=fatal',
  ]
  const rules = wheres.map(ruleOf)
  const index = new RuleIndex(rules)
  expect(named(rules, index.mayHold(factsOf()))).toEqual(['new', 'service=kiln path=src/probe', 'not service=planner'])
  // Asked again, what is remembered says the same.
  expect(index.mayHold(factsOf())).toEqual([1, 3, 4])
  expect(new RuleIndex([]).mayHold(factsOf())).toEqual([])
})

test('nothing is left out that holds, however conditions are put together', () => {
  const leaf = fc.constantFrom(
    'service=kiln',
    'service!=kiln',
    'repository=glaze',
    'type=range',
    'path=src/p',
    'path!=probe',
    'function=read',
    'severity>=error',
    'severity<fatal',
    'message=reading',
    'people>=2',
    'new',
    'release>=4',
    'hour>3',
  )
  const where = fc
    .array(fc.tuple(fc.boolean(), leaf), { minLength: 1, maxLength: 4 })
    .chain((parts) =>
      fc.boolean().map((isEither) => parts.map(([isNot, part]) => (isNot ? `not ${part}` : part)).join(isEither ? ' or ' : ' ')),
    )
  const facts = fc.record({
    service: fc.constantFrom('kiln', 'planner', 'KILN'),
    repository: fc.constantFrom('kiln', 'glaze'),
    type: fc.constantFrom('RangeError', 'TypeError'),
    path: fc.constantFrom('src/probe.js', 'src/relay.js', ''),
    function: fc.constantFrom('readCelsius', 'stop'),
    message: fc.constantFrom('no reading', 'stuck'),
    severityNumber: fc.constantFrom(9, 13, 17, 21),
    people: fc.nat(4),
  })
  fc.assert(
    fc.property(fc.array(where, { minLength: 1, maxLength: 70 }), fc.array(facts, { minLength: 1, maxLength: 4 }), (wheres, all) => {
      const rules = wheres.map(ruleOf)
      const index = new RuleIndex(rules)
      for (const one of all.map(factsOf)) {
        const places = index.mayHold(one)
        expect([...places].sort((a, b) => a - b)).toEqual(places)
        for (const [at, { filter }] of rules.entries()) if (meetsFaultFilter(filter, one)) expect(places).toContain(at)
      }
    }),
  )
})
