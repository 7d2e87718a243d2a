import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { LikenessIndex } from './likeness-index.js'
import { askRequirements, makeRequirementIndex } from './requirement-index.js'
import { RequirementKinship } from './requirement-kinship.js'
import { whatDiffers, whyAlike } from './why-alike.js'
import { noWordVectors } from './word-vectors.js'

const REQUIREMENTS = [
  { id: 'SAF-1', title: 'A firing ends', text: 'The relay opens and the elements are cold when a firing has ended.' },
  { id: 'SAF-2', title: 'A broken probe is noticed', text: 'A thermocouple that is open or shorted stops the firing.' },
  { id: 'BKG-1', title: 'One payment for one load', text: 'A card is charged once for a load, whatever the gateway answers.' },
]
const requirements = makeRequirementIndex(REQUIREMENTS, noWordVectors)
const WORDS = 'relay elements cold firing ended thermocouple open shorted card charged load gateway shelf door'.split(' ')
const text = (id: string, title: string) => ({ id, title, text: '', scope: 'EMB', component: null })

describe('texts that concern the same requirements', () => {
  test('are kin without a word in common', () => {
    const kinship = new RequirementKinship(requirements)
    kinship.add({ id: 'EMB-1', title: 'Elements hot in the morning', text: '' })
    kinship.add({ id: 'EMB-2', title: 'Card charged again', text: '' })
    const kin = kinship.kinOf({ title: 'Relay did not open', text: '' })
    expect(kin.get('EMB-1')).toEqual({ share01: expect.closeTo(1, 1), requirement: 'SAF-1' })
    expect(kin.has('EMB-2')).toBe(false)
    const index = new LikenessIndex({ vectors: noWordVectors })
    index.add(text('EMB-1', 'Elements hot in the morning'))
    index.add(text('EMB-2', 'Card charged again'))
    const asked = text('', 'Relay did not open')
    expect(index.find(asked, { limit: 5 })).toEqual([])
    const [hit, ...others] = index.find(asked, { limit: 5, kin })
    expect(others).toEqual([])
    expect(hit).toMatchObject({ id: 'EMB-1', sharedWords: [], requirement: 'SAF-1' })
    expect(whyAlike(hit as NonNullable<typeof hit>)).toBe('both concern SAF-1')
  })

  test('are those that a slow count of cosines finds, whatever was taken in and out before', () => {
    const sentence = fc.array(fc.constantFrom(...WORDS), { minLength: 1, maxLength: 5 }).map((words) => words.join(' '))
    const step = fc.tuple(fc.constantFrom('a', 'b', 'c', 'd'), fc.option(sentence))
    fc.assert(
      fc.property(fc.array(step, { maxLength: 12 }), sentence, (steps, asked) => {
        const kinship = new RequirementKinship(requirements)
        const left = new Map<string, string>()
        for (const [id, title] of steps) {
          if (title === null) {
            kinship.remove(id)
            left.delete(id)
          } else {
            kinship.add({ id, title, text: '' })
            left.set(id, title)
          }
        }
        const vectorOf = (title: string) => REQUIREMENTS.map(({ id }) => scoreOf(title, id) ** 2)
        const kin = kinship.kinOf({ title: asked, text: '' })
        for (const [id, title] of left) expect(kin.get(id)?.share01 ?? 0).toBeCloseTo(cosine(vectorOf(asked), vectorOf(title)), 9)
        expect([...kin.keys()].every((id) => left.has(id))).toBe(true)
      }),
    )
  })

  test('are the nearest forty', () => {
    const kinship = new RequirementKinship(requirements)
    for (let at = 0; at < 60; at++) kinship.add({ id: `EMB-${at}`, title: at === 59 ? 'relay elements' : 'relay card', text: '' })
    const kin = kinship.kinOf({ title: 'relay elements', text: '' })
    expect(kin.size).toBe(40)
    expect([...kin.keys()][0]).toBe('EMB-59')
  })
})

function scoreOf(title: string, id: string): number {
  return askRequirements(requirements, { title, text: '' }, 10).find((hit) => hit.id === id)?.score ?? 0
}

function cosine(a: readonly number[], b: readonly number[]): number {
  const lengths = Math.hypot(...a) * Math.hypot(...b)
  return lengths === 0 ? 0 : a.reduce((sum, value, at) => sum + value * (b[at] ?? 0), 0) / lengths
}

describe('what differs', () => {
  const index = new LikenessIndex({ vectors: noWordVectors })
  index.add(text('EMB-1', 'Shelf heights wrong after a copy'))
  index.add(text('EMB-2', 'Shelf order wrong'))

  test('is the rarest words of the title that nothing answers to, and never lowers the score', () => {
    const [first] = index.find(text('', 'Shelf wrong after a copy: the order'), { limit: 1, admits: (id) => id === 'EMB-1' })
    expect(first?.otherWords).toEqual(['heights'])
    expect(whatDiffers(first as NonNullable<typeof first>)).toBe('there also “heights”')
  })

  test('is nothing where every word of its title has an answer', () => {
    const [same] = index.find(text('', 'Wrong order of the shelf, again'), { limit: 1, admits: (id) => id === 'EMB-2' })
    expect(same?.otherWords).toEqual([])
    expect(whatDiffers(same as NonNullable<typeof same>)).toBe('')
  })
})
