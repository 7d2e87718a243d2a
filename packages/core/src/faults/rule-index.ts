import { BitSet } from '#basics/bit-set'
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
  readonly #asked = new Map<Trait, { position: number; filter: FaultFilter }[]>()
  readonly #known = new Map<Trait, Map<string, BitSet>>()

  constructor(rules: readonly ReadRule[]) {
    this.#count = rules.length
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
    const left = new BitSet(this.#count, true)
    for (const [trait, asked] of this.#asked) left.intersect(this.#met(trait, asked, traits))
    return left.numbers()
  }

  #met(trait: Trait, asked: readonly { position: number; filter: FaultFilter }[], traits: FaultTraits): BitSet {
    const value = trait === 'severity' ? String(traits.severityNumber) : traits[trait]
    let known = this.#known.get(trait)
    if (known === undefined || known.size >= VALUES_MAX) {
      known = new Map()
      this.#known.set(trait, known)
    }
    const before = known.get(value)
    if (before) return before
    const met = new BitSet(this.#count, true)
    // A condition on a trait looks at nothing else of the fault.
    for (const { position, filter } of asked) if (!meetsFaultFilter(filter, traits as FaultFacts)) met.remove(position)
    known.set(value, met)
    return met
  }
}

/** Whether a part of a condition is asked by the index: one comparison of one trait. */
export function isIndexed(part: FaultFilter): part is Extract<FaultFilter, { kind: 'compare' }> & { field: Trait } {
  return part.kind === 'compare' && (TRAITS as readonly string[]).includes(part.field)
}
