import { type FaultFilter, type FaultTraits, meetsFaultFilter, type FaultFacts } from './fault-filter.js'
import type { ReadRule } from './intake-rule.js'

/** The traits of a fault by which rules are told apart at once. */
const TRAITS = ['service', 'repository', 'type', 'path', 'function', 'severity', 'message'] as const
type Trait = (typeof TRAITS)[number]
/** Of each trait so many values are remembered; messages are many. */
const VALUES_MAX = 5_000

/**
 * Rules by what they ask of the traits of a fault, so that of many rules only those are looked at that may hold. For each trait and value
 * met, a set of bits says which rules ask nothing of that trait, or what this value meets; the sets of a fault's traits, taken together,
 * leave the rules to look at. Only conditions that must hold by themselves are used (one alone, or the parts of an `and`): nothing is left
 * out that could hold. Cost: for a fault one look for each trait and O(rules / 32); for a new value O(conditions on that trait).
 */
export class RuleIndex {
  readonly #count: number
  readonly #words: number
  readonly #asked = new Map<Trait, { position: number; filter: FaultFilter }[]>()
  readonly #known = new Map<Trait, Map<string, Int32Array>>()

  constructor(rules: readonly ReadRule[]) {
    this.#count = rules.length
    this.#words = (rules.length + 31) >>> 5
    for (const [position, { filter }] of rules.entries())
      for (const part of filter.kind === 'and' ? filter.parts : [filter])
        if (isIndexed(part)) {
          const asked = this.#asked.get(part.field) ?? []
          asked.push({ position, filter: part })
          this.#asked.set(part.field, asked)
        }
  }

  /** The places of the rules that may hold for a fault, in their order. */
  mayHold(traits: FaultTraits): number[] {
    const left = new Int32Array(this.#words).fill(-1)
    for (const [trait, asked] of this.#asked) {
      const met = this.#met(trait, asked, traits)
      for (let at = 0; at < left.length; at++) left[at] = (left[at] ?? 0) & (met[at] ?? 0)
    }
    const places: number[] = []
    for (let at = 0; at < left.length; at++)
      for (let word = left[at] ?? 0; word !== 0; word &= word - 1) {
        const place = at * 32 + (31 - Math.clz32(word & -word))
        if (place < this.#count) places.push(place)
      }
    return places
  }

  #met(trait: Trait, asked: readonly { position: number; filter: FaultFilter }[], traits: FaultTraits): Int32Array {
    const value = trait === 'severity' ? String(traits.severityNumber) : traits[trait]
    let known = this.#known.get(trait)
    if (known === undefined || known.size >= VALUES_MAX) {
      known = new Map()
      this.#known.set(trait, known)
    }
    const before = known.get(value)
    if (before) return before
    const met = new Int32Array(this.#words).fill(-1)
    // A condition on a trait looks at nothing else of the fault.
    for (const { position, filter } of asked)
      if (!meetsFaultFilter(filter, traits as FaultFacts)) met[position >>> 5] = (met[position >>> 5] ?? 0) & ~(1 << (position & 31))
    known.set(value, met)
    return met
  }
}

/** Whether a part of a condition is asked by the index: one comparison of one trait. */
export function isIndexed(part: FaultFilter): part is Extract<FaultFilter, { kind: 'compare' }> & { field: Trait } {
  return part.kind === 'compare' && (TRAITS as readonly string[]).includes(part.field)
}
