/** Vectors of common words, most frequent first (a word's place is its rank); each has length about 254 in signed bytes. */
export class WordVectors {
  readonly dimensions: number
  readonly size: number
  readonly #rankByWord = new Map<string, number>()
  readonly #data: Int8Array

  constructor({ words, data }: { words: readonly string[]; data: Int8Array }) {
    this.size = words.length
    this.dimensions = words.length === 0 ? 0 : data.length / words.length
    this.#data = data
    for (const [rank, word] of words.entries()) if (!this.#rankByWord.has(word)) this.#rankByWord.set(word, rank)
  }

  /** Place in the order of frequency, from 0; -1 for a word that has no vector. */
  rankOf(word: string): number {
    return this.#rankByWord.get(word) ?? -1
  }

  /** Cosine of two words by rank, in [-1, 1]. */
  cosine(a: number, b: number): number {
    let sum = 0
    const data = this.#data
    const count = this.dimensions
    const fromA = a * count
    const fromB = b * count
    for (let i = 0; i < count; i++) sum += (data[fromA + i] as number) * (data[fromB + i] as number)
    return sum / (254 * 254)
  }
}

/** Vectors that know no word; likeness then goes by the words themselves. */
export const noWordVectors = new WordVectors({ words: [], data: new Int8Array(0) })
