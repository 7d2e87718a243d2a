import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { BitSet } from './bit-set.js'

const sorted = (numbers: Iterable<number>) => [...numbers].sort((a, b) => a - b)
const bitsOf = (size: number, numbers: Iterable<number>) => {
  const bits = new BitSet(size)
  for (const number of numbers) bits.add(number)
  return bits
}

test('is a set of numbers, as the plain one is', () => {
  const sized = fc.integer({ min: 1, max: 100 }).chain((size) => {
    const numbers = fc.uniqueArray(fc.nat(size - 1)).map((all) => new Set(all))
    return fc.record({ size: fc.constant(size), one: numbers, other: numbers, gone: fc.nat(size - 1) })
  })
  fc.assert(
    fc.property(sized, ({ size, one, other, gone }) => {
      const made = (change: (bits: BitSet) => void) => {
        const bits = bitsOf(size, one)
        change(bits)
        return bits.numbers()
      }
      const common = [...one].filter((number) => other.has(number))
      const them = bitsOf(size, other)
      expect(made(() => {})).toEqual(sorted(one))
      expect(made((bits) => bits.unite(them))).toEqual(sorted(new Set([...one, ...other])))
      expect(made((bits) => bits.intersect(them))).toEqual(sorted(common))
      expect(made((bits) => bits.subtract(them))).toEqual(sorted([...one].filter((number) => !other.has(number))))
      expect(made((bits) => bits.remove(gone))).toEqual(sorted([...one].filter((number) => number !== gone)))
      expect(bitsOf(size, one).countCommon(them)).toBe(common.length)
      expect(one.has(gone)).toBe(bitsOf(size, one).has(gone))
      expect(new BitSet(size, true).numbers()).toEqual(Array.from({ length: size }, (_, at) => at))
    }),
  )
})
