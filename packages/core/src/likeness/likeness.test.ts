import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { analyseText } from './analyse-text.js'
import { LikenessIndex, type LikenessHit, type LikenessText, worthShowing } from './likeness-index.js'
import { findRequirements, makeRequirementIndex } from './requirement-index.js'
import { noWordVectors, WordVectors } from './word-vectors.js'

const text = (id: string, title: string, body = '', scope = 'EMB'): LikenessText => ({ id, title, text: body, scope, component: null })

/** Three words in four dimensions: relay and contactor point the same way, invoice elsewhere. */
const vectors = new WordVectors({
  words: ['relay', 'contactor', 'invoice'],
  data: Int8Array.from([127, 127, 127, 127, 127, 127, 127, 110, 127, -127, 127, -127]),
})

describe('the words of a text', () => {
  test('are stemmed, code is split and kept whole, common words are left out', () => {
    expect(analyseText({ title: 'Relays are stuck', text: 'in `onAddRow`' }).map((token) => token.stem)).toEqual([
      'relai',
      'stuck',
      'onaddrow',
      'add',
      'row',
    ])
  })
  test('take linear time on a long hostile text', () => {
    expect(analyseText({ title: 'a', text: 'aA'.repeat(200_000) }).length).toBeLessThanOrEqual(420)
  })
})

describe('look-alikes', () => {
  test('share rare words, and say which', () => {
    const index = new LikenessIndex({ vectors: noWordVectors })
    for (let turn = 0; turn < 20; turn++) index.add(text(`other-${turn}`, `Invoice ${turn} is wrong`))
    index.add(text('alike', 'Relay stays closed', 'when the probe drops out'))
    const [first] = index.find(text('new', 'The relay does not open', 'although the probe is gone'), { limit: 3 })
    expect(first?.id).toBe('alike')
    expect(first?.sharedWords).toEqual(expect.arrayContaining(['relay', 'probe']))
  })

  test('are found by related words, and say so', () => {
    const index = new LikenessIndex({ vectors })
    index.add(text('a', 'Relay welded shut'))
    index.add(text('b', 'Invoice welded shut'))
    const hits = index.find(text('new', 'Contactor welded shut'), { limit: 2 })
    expect(hits[0]?.id).toBe('a')
    expect(hits[0]?.relatedWords).toEqual([['contactor', 'relay']])
  })

  test('never come from another scope, nor is a text like itself', () => {
    const index = new LikenessIndex({ vectors: noWordVectors })
    index.add(text('a', 'Relay stays closed', '', 'OTHER'))
    index.add(text('b', 'Relay stays closed'))
    expect(index.find(text('b', 'Relay stays closed'), { limit: 5 })).toEqual([])
  })

  test('follow changes: an index that took texts in, out and in again answers as a fresh one', () => {
    const texts = fc.array(
      fc.tuple(fc.constantFrom('a', 'b', 'c', 'd'), fc.constantFrom('relay open', 'kiln cold', 'probe open cold', 'card refused relay')),
      { maxLength: 20 },
    )
    fc.assert(
      fc.property(texts, (steps) => {
        const lived = new LikenessIndex({ vectors: noWordVectors })
        const last = new Map<string, string>()
        for (const [id, title] of steps) {
          if (title === 'kiln cold' && last.has(id)) {
            lived.remove(id)
            last.delete(id)
          } else {
            lived.add(text(id, title))
            last.set(id, title)
          }
        }
        expect(lived.size).toBe(last.size)
        const ids = lived.find(text('q', 'relay probe open'), { limit: 9 }).map((hit) => hit.id)
        const fresh = new LikenessIndex({ vectors: noWordVectors })
        for (const [id, title] of last) fresh.add(text(id, title))
        expect(new Set(ids)).toEqual(new Set(fresh.find(text('q', 'relay probe open'), { limit: 9 }).map((hit) => hit.id)))
      }),
    )
  })
})

describe('what is offered to people', () => {
  const hit = (id: string, score: number): LikenessHit => ({
    id,
    score,
    sharedWords: ['kiln'],
    relatedWords: [],
    otherWords: [],
    requirement: null,
  })

  test('does not fall far behind the best, and keeps its order', () => {
    const shown = worthShowing([hit('a', 0.5), hit('b', 0.31), hit('c', 0.3), hit('d', 0.29), hit('e', 0.1)])
    expect(shown.map(({ id }) => id)).toEqual(['a', 'b', 'c'])
    expect(worthShowing([])).toEqual([])
  })

  test('shares more than words that carry no subject', () => {
    const index = new LikenessIndex({ vectors: noWordVectors })
    index.add(text('EMB-1', 'Went through the bill and paid twice for one load'))
    index.add(text('EMB-2', 'Thermocouple broke while the kiln was heating'))
    const [first, second] = index.find(text('new', 'Thermocouple wire burnt through and kiln went on heating'), { limit: 5 })
    expect(first?.id).toBe('EMB-2')
    expect(second?.sharedWords ?? []).toEqual([])
  })
})

describe('requirements of a report', () => {
  const index = makeRequirementIndex(
    [
      { id: 'SAF-3', title: 'Sensor faults', text: 'An open thermocouple shall be recognised.' },
      { id: 'BKG-2', title: 'One holder per place', text: 'A shelf is promised to one member.' },
    ],
    noWordVectors,
  )
  const symptom = { title: 'Panel shows zero and elements stay on', text: 'All night.' }

  test('what a look-alike says in the words of the requirement counts for the report, without lending it those words', () => {
    expect(findRequirements(index, { ...symptom, neighbours: [] }, 5)).toEqual([])
    const neighbour = { title: 'Open thermocouple not recognised', text: '', likeness: 0.5 }
    const hits = findRequirements(index, { ...symptom, neighbours: [neighbour] }, 5)
    expect(hits.map((hit) => hit.id)).toEqual(['SAF-3'])
    expect(hits[0]).toMatchObject({ sharedWords: [], relatedWords: [] })
  })

  test('the report’s own words weigh more than those of a look-alike', () => {
    const neighbour = { title: 'Open thermocouple not recognised', text: '', likeness: 0.9 }
    const hits = findRequirements(index, { title: 'Shelf promised to one member twice', text: '', neighbours: [neighbour] }, 5)
    expect(hits.map((hit) => hit.id)).toEqual(['BKG-2', 'SAF-3'])
  })
})
