import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  defaultTieWeights,
  isUpkeep,
  learnTieWeights,
  likelihoodOf,
  OFFERED_FROM,
  proposeTies,
  SURE_FROM,
  textOfCommit,
  weighTie,
  type DecidedTie,
  type TieFacts,
} from './commit-links.js'

const NOTHING: TieFacts = { words: 0, component: 0, files: 0, author: 0, fault: 0, later: 0, settled: 0, 'no-mend': 0 }
const share = fc.double({ min: 0, max: 1, noNaN: true })
const flag = fc.constantFrom(0, 1)
const someFacts: fc.Arbitrary<TieFacts> = fc.record({
  words: share,
  component: share,
  files: share,
  author: flag,
  fault: flag,
  later: flag,
  settled: flag,
  'no-mend': flag,
})

describe('a message that is no mending', () => {
  test.each([
    ['add Gull Haven', true],
    ['labels: small illustration of the pod', false],
    ['scale: accept pounds and ounces for the batch weight', true],
    ['thermo: rename read_raw to sample', true],
    ['tidy segment state enum, no change in behaviour', true],
    ['Relay: no functional change', true],
    ['drop acked batches one by one', false],
    ['Stop heating when the probe is broken', false],
    ['shows', true],
    ['Address of the kiln is read anew', false],
  ])('%j: %j', (message, expected) => expect(isUpkeep(message)).toBe(expected))
})

describe('proposals for a commit', () => {
  test('come likeliest first, at most as many as asked for, none below what is worth a look', () => {
    fc.assert(
      fc.property(fc.array(someFacts, { maxLength: 12 }), fc.integer({ min: 1, max: 5 }), (all, limit) => {
        const found = proposeTies(
          all.map((facts, at) => ({ key: `EMB-${at + 1}`, facts })),
          { limit },
        )
        expect(found.length).toBeLessThanOrEqual(limit)
        for (const [at, { likelihood01 }] of found.entries()) {
          expect(likelihood01).toBeGreaterThanOrEqual(OFFERED_FROM)
          if (at > 0) expect(likelihood01).toBeLessThanOrEqual(found[at - 1]?.likelihood01 ?? 1)
        }
        expect(found.slice(1).every(({ isSure }) => !isSure)).toBe(true)
      }),
    )
  })

  test('are sure only where one is likely and well before the next', () => {
    const strong = { ...NOTHING, words: 0.7, files: 1 }
    const [alone] = proposeTies([{ key: 'EMB-1', facts: strong }])
    expect(alone).toMatchObject({ key: 'EMB-1', isSure: true, reasons: ['words', 'files'] })
    expect(alone?.likelihood01).toBeGreaterThan(SURE_FROM)
    const [first] = proposeTies([
      { key: 'EMB-2', facts: strong },
      { key: 'EMB-1', facts: strong },
    ])
    expect(first).toMatchObject({ key: 'EMB-1', isSure: false })
  })

  test('say nothing where nothing speaks for an item', () => expect(proposeTies([{ key: 'EMB-1', facts: NOTHING }])).toEqual([]))

  test('never count less for more that speaks for an item', () => {
    fc.assert(
      fc.property(someFacts, fc.constantFrom('words', 'files', 'author', 'fault' as const), (facts, reason) => {
        const more = weighTie({ ...facts, [reason]: 1 }).logit
        expect(more).toBeGreaterThanOrEqual(weighTie(facts).logit - 1e-9)
      }),
    )
  })
})

describe('what people decided', () => {
  const decision: fc.Arbitrary<DecidedTie> = fc.record({ facts: someFacts, isRight: fc.boolean() })

  test('changes nothing as long as there is none of it', () => expect(learnTieWeights([])).toEqual(defaultTieWeights))

  test('counts whatever the order in which it came', () => {
    fc.assert(
      fc.property(fc.array(decision, { minLength: 1, maxLength: 15 }), (decided) => {
        const one = learnTieWeights(decided)
        const other = learnTieWeights([...decided].reverse())
        for (const name of Object.keys(one) as (keyof typeof one)[]) expect(other[name]).toBeCloseTo(one[name], 6)
      }),
    )
  })

  test('makes what was right likelier and what was wrong less likely', () => {
    fc.assert(
      fc.property(someFacts, fc.boolean(), (facts, isRight) => {
        const before = likelihoodOf(weighTie(facts).logit)
        const after = likelihoodOf(weighTie(facts, learnTieWeights(Array.from({ length: 8 }, () => ({ facts, isRight })))).logit)
        if (isRight) expect(after).toBeGreaterThanOrEqual(before - 1e-9)
        else expect(after).toBeLessThanOrEqual(before + 1e-9)
      }),
      { numRuns: 40 },
    )
  })

  test('stays finite, however many decide and however they contradict each other', () => {
    const facts = { ...NOTHING, words: 0.5, component: 1 }
    const weights = learnTieWeights(Array.from({ length: 500 }, (_, at) => ({ facts, isRight: at % 2 === 0 })))
    expect(Object.values(weights).every(Number.isFinite)).toBe(true)
    // Half of them were right: that is what is believed now.
    expect(likelihoodOf(weighTie(facts, weights).logit)).toBeCloseTo(0.5, 1)
  })
})

test('a commit is read with the words of its paths', () => {
  expect(textOfCommit({ message: 'fix factor\n\nIt was squared.', files: ['web/recipes/calc.ts'] })).toEqual({
    title: 'fix factor',
    text: '\nIt was squared.\nweb recipes calc ts',
  })
})
