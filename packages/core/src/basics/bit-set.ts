/**
 * Numbers from 0 up to a size that is given, a bit each; what takes another set takes one of the same size. Cost: O(size / 32), O(1) for
 * one number.
 */
export class BitSet {
  readonly #words: Int32Array

  constructor(size: number, isFull = false) {
    this.#words = new Int32Array((size + 31) >>> 5)
    if (!isFull) return
    this.#words.fill(-1)
    if ((size & 31) !== 0) this.#words[size >>> 5] = (1 << (size & 31)) - 1
  }

  has(number: number): boolean {
    return (((this.#words[number >>> 5] ?? 0) >>> (number & 31)) & 1) === 1
  }

  add(number: number): void {
    this.#words[number >>> 5] = (this.#words[number >>> 5] ?? 0) | (1 << (number & 31))
  }

  remove(number: number): void {
    this.#words[number >>> 5] = (this.#words[number >>> 5] ?? 0) & ~(1 << (number & 31))
  }

  unite(other: BitSet): void {
    for (let at = 0; at < this.#words.length; at++) this.#words[at] = (this.#words[at] ?? 0) | (other.#words[at] ?? 0)
  }

  intersect(other: BitSet): void {
    for (let at = 0; at < this.#words.length; at++) this.#words[at] = (this.#words[at] ?? 0) & (other.#words[at] ?? 0)
  }

  subtract(other: BitSet): void {
    for (let at = 0; at < this.#words.length; at++) this.#words[at] = (this.#words[at] ?? 0) & ~(other.#words[at] ?? 0)
  }

  countCommon(other: BitSet): number {
    let count = 0
    for (let at = 0; at < this.#words.length; at++)
      for (let word = (this.#words[at] ?? 0) & (other.#words[at] ?? 0); word !== 0; word &= word - 1) count++
    return count
  }

  /** The numbers in it, the least first. */
  numbers(): number[] {
    const numbers: number[] = []
    for (let at = 0; at < this.#words.length; at++)
      for (let word = this.#words[at] ?? 0; word !== 0; word &= word - 1) numbers.push(at * 32 + (31 - Math.clz32(word & -word)))
    return numbers
  }
}
