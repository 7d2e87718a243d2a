import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { canonicalText, compareSnapshots, type Snapshot } from './baseline.js'

const key = fc.constantFrom('SAF-1', 'SAF-2', 'SAF-3', 'PLN-1')
const snapshots: fc.Arbitrary<Snapshot> = fc.record({
  requirements: fc.uniqueArray(
    fc.record({ key, revision: fc.integer({ min: 1, max: 3 }), parent: fc.option(key), isRetired: fc.boolean() }),
    { selector: (held) => held.key },
  ),
  links: fc.uniqueArray(
    fc.record({ kind: fc.constantFrom('implements', 'breaks'), item: fc.constantFrom('EMB-1', 'EMB-2'), requirement: key }),
    {
      selector: (link) => JSON.stringify(link),
    },
  ),
})

describe('two moments', () => {
  test('what one has more the other has less; nothing differs from itself; what is told makes the one of the other', () => {
    fc.assert(
      fc.property(snapshots, snapshots, (one, two) => {
        const [there, back] = [compareSnapshots(one, two), compareSnapshots(two, one)]
        expect(there.added).toEqual(back.removed)
        expect(there.linksAdded).toEqual(back.linksRemoved)
        expect(there.retired).toEqual(back.restored)
        expect(there.changed.map(({ key: changed, from, to }) => [changed, to, from])).toEqual(
          back.changed.map(({ key: changed, from, to }) => [changed, from, to]),
        )
        expect(Object.values(compareSnapshots(one, one)).flat()).toEqual([])
        // Told changes, laid on the first, give the second.
        const told = new Map(one.requirements.map((held) => [held.key, { ...held }]))
        for (const gone of there.removed) told.delete(gone)
        for (const { key: changed, to } of there.changed) Object.assign(told.get(changed) ?? {}, { revision: to })
        for (const { key: moved, to } of there.moved) Object.assign(told.get(moved) ?? {}, { parent: to })
        for (const retired of there.retired) Object.assign(told.get(retired) ?? {}, { isRetired: true })
        for (const restored of there.restored) Object.assign(told.get(restored) ?? {}, { isRetired: false })
        for (const held of two.requirements) if (there.added.includes(held.key)) told.set(held.key, { ...held })
        expect(canonicalText({ requirements: [...told.values()], links: two.links })).toBe(canonicalText(two))
      }),
    )
  })

  test('the text of a moment does not depend on the order, and differs where anything does', () => {
    fc.assert(
      fc.property(snapshots, snapshots, (one, two) => {
        const turned = { requirements: [...one.requirements].reverse(), links: [...one.links].reverse() }
        expect(canonicalText(turned)).toBe(canonicalText(one))
        const isSame = Object.values(compareSnapshots(one, two)).flat().length === 0
        expect(canonicalText(one) === canonicalText(two)).toBe(isSame)
      }),
    )
  })
})
