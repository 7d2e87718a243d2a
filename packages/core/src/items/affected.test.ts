import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { affectedState, type AffectedFacts } from './affected.js'

const facts: fc.Arbitrary<AffectedFacts> = fc.record({
  seen: fc.nat(3),
  tested: fc.constantFrom('passed' as const, 'failed' as const, null),
  said: fc.constantFrom('affected' as const, 'not' as const, null),
  hasFix: fc.boolean(),
  isFoundIn: fc.boolean(),
})
const NOTHING: AffectedFacts = { seen: 0, tested: null, said: null, hasFix: false, isFoundIn: false }

test.each([
  [{}, 'untried', null],
  [{ isFoundIn: true }, 'affected', 'found-in'],
  [{ tested: 'passed' }, 'not', 'tested'],
  [{ tested: 'failed', hasFix: true }, 'affected', 'tested'],
  [{ tested: 'passed', hasFix: true }, 'fixed', 'fix'],
  [{ said: 'not', tested: 'failed' }, 'not', 'said'],
  [{ said: 'not', seen: 2 }, 'affected', 'seen'],
] as const)('%j stands as %s, by %s', (given, state, ground) => {
  expect(affectedState({ ...NOTHING, ...given })).toEqual({ state, ground })
})

test('what was seen is never talked away, and every state but untried has a ground', () => {
  fc.assert(
    fc.property(facts, (given) => {
      const { state, ground } = affectedState(given)
      if (given.seen > 0) expect([state, ground]).toEqual(['affected', 'seen'])
      expect(ground === null).toBe(state === 'untried')
      if (state === 'fixed') expect(given.hasFix).toBe(true)
    }),
  )
})
