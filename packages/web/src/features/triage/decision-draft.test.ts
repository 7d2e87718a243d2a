import { describe, expect, test } from '@jest/globals'
import type { Item } from '@dystracer/core/items/wire'
import { type Proposals, zAcceptItem } from '@dystracer/core/triage/wire'
import { TRIAGE_SOURCES } from '@dystracer/core/triage/decision'
import fc from 'fast-check'
import { acceptBody, askedOf, firstDraft, nextProposal, proposedOf } from './decision-draft'
import { reasonText, SOURCE_PHRASE, SOURCE_WORD } from './reason-text'

const proposal = (value: string, isFounded = true) => ({ value, reason: 'last changed it', isFounded }) as Proposals['owners'][number]
const proposals = (given: Partial<Proposals> = {}): Proposals => ({
  severity: { value: 2, reason: 'happens in production' },
  owners: [],
  components: [],
  milestones: [],
  requirements: [],
  alike: [],
  broughtInBy: [],
  decided: null,
  ...given,
})
const item = (given: Partial<Item> = {}) =>
  ({ title: 'TypeError in isFree', ownerId: null, component: null, milestone: null, reporterId: null, cameFrom: null, ...given }) as Item

describe('the draft of a decision', () => {
  test('begins with what the item holds, then with what was proposed', () => {
    const offered = proposals({
      owners: [proposal('teo'), proposal('rafe')],
      components: [proposal('Firing planner')],
      milestones: [proposal('4.2')],
    })
    expect(firstDraft(item(), offered)).toEqual({
      severity: 2,
      ownerId: 'teo',
      component: 'Firing planner',
      milestone: '',
      requirement: '',
      title: 'TypeError in isFree',
    })
    expect(firstDraft(item({ ownerId: 'mara', component: 'Kiln control', milestone: '4.1' }), offered)).toMatchObject({
      ownerId: 'mara',
      component: 'Kiln control',
      milestone: '4.1',
    })
  })

  test('holds a requirement only where evidence ties it', () => {
    expect(firstDraft(item(), proposals({ requirements: [proposal('SAF-3', true)] })).requirement).toBe('SAF-3')
    expect(firstDraft(item(), proposals({ requirements: [proposal('SAF-3', false), proposal('PLN-1', true)] })).requirement).toBe('')
  })

  test('one key goes through the proposals and “none”, round and round', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.string({ minLength: 1 }), { minLength: 1, maxLength: 6 }), (values) => {
        const met = [nextProposal(values, '')]
        for (let turn = 0; turn < values.length; turn++) met.push(nextProposal(values, met.at(-1) ?? ''))
        expect(met).toEqual([...values, ''])
      }),
    )
    expect(nextProposal([], 'mara')).toBe('mara')
    expect(nextProposal(['teo'], 'somebody else')).toBe('teo')
  })
})

describe('what accepting sends', () => {
  test('is the draft; where nothing was proposed yet, what the item holds; always something that the server takes', () => {
    const draft = { severity: 3, ownerId: '', component: 'Billing', milestone: '', requirement: 'SAF-3', title: 'Card charged twice' }
    const offered = proposals({ owners: [proposal('teo')], alike: [proposal('EMB-4')] })
    const sent = acceptBody(draft, undefined, offered, 1)
    expect(sent).toMatchObject({
      severity: 1,
      ownerId: null,
      component: 'Billing',
      milestone: null,
      requirement: 'SAF-3',
      title: 'Card charged twice',
    })
    expect(sent).toMatchObject({ proposed: { severity: 2, ownerId: 'teo', component: null, sameAs: 'EMB-4' } })
    expect(acceptBody(undefined, { ownerId: 'mara', component: null }, undefined, 4)).toEqual({
      severity: 4,
      ownerId: 'mara',
      component: null,
      milestone: null,
      requirement: null,
      proposed: {},
      asWaiting: true,
    })
    for (const body of [sent, acceptBody(undefined, undefined, undefined, 5)])
      expect(zAcceptItem.safeParse(body).error?.issues ?? []).toEqual([])
    expect(proposedOf(undefined)).toEqual({})
  })
})

describe('who would be asked', () => {
  const nameOf = (id: string | null) => `the name of ${id}`
  test.each([
    [{ reporterId: 'person:mara', cameFrom: null }, 'the name of person:mara'],
    [{ reporterId: 'person:ines', cameFrom: null }, null],
    [{ reporterId: null, cameFrom: 'anwen@elsewhere.example' }, 'anwen@elsewhere.example'],
    [{ reporterId: null, cameFrom: 'F-3' }, null],
    [{ reporterId: null, cameFrom: null }, null],
  ])('of %j is %j', (given, asked) => {
    expect(askedOf(given as Item, nameOf, 'person:ines')).toBe(asked)
  })
})

describe('why an entry stands where it does', () => {
  test('is said in words, and a guess is called one', () => {
    const reasons = [
      { code: 'severity' as const, severity: 1 },
      { code: 'people' as const, count: 19 },
      { code: 'people' as const, count: 1 },
      { code: 'new-in' as const, release: 'kiln 4.1.4' },
      { code: 'waits' as const, days: 1 },
      { code: 'occurrences' as const, count: 2 },
      { code: 'came-back' as const },
      { code: 'answered' as const },
    ]
    expect(reasonText({ reasons, isGuess: true } as Parameters<typeof reasonText>[0])).toBe(
      'severity 1 guess, 19 people, 1 person, new in kiln 4.1.4, waits 1 day, 2 times, came back, answered',
    )
    expect(reasonText({ reasons: reasons.slice(0, 1), isGuess: false } as Parameters<typeof reasonText>[0])).toBe('severity 1')
  })

  test('every source has a word and a phrase', () => {
    for (const source of TRIAGE_SOURCES)
      expect([SOURCE_WORD[source], SOURCE_PHRASE[source]]).toEqual([expect.stringMatching(/\w/), expect.stringMatching(/\w/)])
  })
})
