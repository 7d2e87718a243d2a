import { describe, expect, test } from '@jest/globals'
import { STAGES } from '#ladder/ladder'
import fc from 'fast-check'
import { lackingOf, missingFor, type RuledItem } from './stage-rule.js'

const SETUP = {
  types: [
    { type: 'defect', fields: { severity: 'required', due: 'hidden' } },
    { type: 'task', fields: {} },
  ],
  stageRules: [
    { stage: 'underway', needs: ['owner', 'estimate'] },
    { stage: 'accepted', needs: ['owner', 'component'] },
    { stage: 'verified', needs: ['requirement'] },
  ],
} as const
const item = (more: Partial<RuledItem>): RuledItem => ({
  type: 'task',
  stage: 'underway',
  isRejected: false,
  values: { owner: null, component: 'kiln', estimate: null, severity: null },
  ...more,
})

describe('what an item lacks', () => {
  test('is what its stage and those before ask for, each field once', () => {
    expect(lackingOf(item({}), SETUP)).toEqual(['owner', 'estimate'])
    expect(lackingOf(item({ stage: 'accepted' }), SETUP)).toEqual(['owner'])
    expect(lackingOf(item({ stage: 'logged' }), SETUP)).toEqual([])
  })

  test('is what its type asks for at any stage; a type that is gone asks for nothing', () => {
    expect(lackingOf(item({ type: 'defect', stage: 'logged' }), SETUP)).toEqual(['severity'])
    expect(lackingOf(item({ type: 'gone', stage: 'logged' }), SETUP)).toEqual([])
  })

  test('is nothing where it was rejected, and never a field that nobody told of', () => {
    expect(lackingOf(item({ isRejected: true }), SETUP)).toEqual([])
    expect(lackingOf(item({ stage: 'verified' }), SETUP)).not.toContain('requirement')
    expect(lackingOf(item({ stage: 'verified', values: { requirement: [] } }), SETUP)).toEqual(['requirement'])
  })

  test('only grows with the stage, and every field in it is empty', () => {
    const value = fc.constantFrom(null, '', 'x', 0, [], ['x'])
    fc.assert(
      fc.property(
        fc.constantFrom(...STAGES),
        fc.constantFrom(...STAGES),
        fc.record({ owner: value, component: value, estimate: value, requirement: value }),
        (one, other, values) => {
          const [early, late] = STAGES.indexOf(one) <= STAGES.indexOf(other) ? [one, other] : [other, one]
          const [less, more] = [early, late].map((stage) => lackingOf(item({ stage, values }), SETUP)) as [string[], string[]]
          expect(more).toEqual(expect.arrayContaining(less))
          expect(missingFor({ stage: late, needs: more }, values)).toEqual(more)
        },
      ),
    )
  })
})
