import { askRequirements } from './requirement-index.js'
import type { Kin, LikenessIndex } from './likeness-index.js'

/** So many requirements speak for a text; what comes after them weighs next to nothing once it is squared. */
const PROFILE_MAX = 8
/** So many texts that concern the same requirements are told. */
const KIN_MAX = 40
/** At most this many texts of one requirement are looked at, the newest. */
const OF_REQUIREMENT_MAX = 5_000

type Profile = readonly { requirement: string; weight: number }[]

/**
 * Which texts concern the same requirements, whatever words they use: a reporter writes “the kiln went on
 * heating”, another “relay stuck on”, and both come near to the requirement that a firing ends. A text's
 * profile is the unit vector of its squared scores over the requirements (squaring leaves the few that
 * matter); two texts are kin by the cosine of their profiles. The idea is explicit semantic analysis
 * (Gabrilovich and Markovitch 2007) with the requirements as concepts. Cost of a question: one to the index
 * of requirements, and the texts of its eight best (5,000 each at most); of a text that is taken in: one question to that index.
 */
export class RequirementKinship {
  readonly #requirements: LikenessIndex
  readonly #profiles = new Map<string, Profile>()
  readonly #textsOf = new Map<string, Map<string, number>>()

  constructor(requirements: LikenessIndex) {
    this.#requirements = requirements
  }

  /** Takes a text in, in place of an earlier one with the same id. */
  add({ id, title, text }: { id: string; title: string; text: string }): void {
    this.remove(id)
    const profile = this.#profileOf({ title, text })
    this.#profiles.set(id, profile)
    for (const { requirement, weight } of profile) {
      const texts = this.#textsOf.get(requirement)
      if (texts) texts.set(id, weight)
      else this.#textsOf.set(requirement, new Map([[id, weight]]))
    }
  }

  remove(id: string): void {
    for (const { requirement } of this.#profiles.get(id) ?? []) this.#textsOf.get(requirement)?.delete(id)
    this.#profiles.delete(id)
  }

  /** The texts that concern the same requirements as this one, and how far, from 0 to 1; the nearest 40. */
  kinOf(text: { title: string; text: string }): Map<string, Kin> {
    const kin = new Map<string, Kin & { most: number }>()
    for (const { requirement, weight } of this.#profileOf(text))
      for (const [id, other] of [...(this.#textsOf.get(requirement) ?? [])].slice(-OF_REQUIREMENT_MAX)) {
        const part = weight * other
        const known = kin.get(id)
        if (!known) kin.set(id, { share01: part, requirement, most: part })
        else kin.set(id, { ...(part > known.most ? { requirement, most: part } : known), share01: known.share01 + part })
      }
    const nearest = [...kin].sort((a, b) => b[1].share01 - a[1].share01 || (a[0] < b[0] ? -1 : 1)).slice(0, KIN_MAX)
    return new Map(nearest.map(([id, { share01, requirement }]) => [id, { share01: Math.min(1, share01), requirement }]))
  }

  #profileOf(text: { title: string; text: string }): Profile {
    const squares = askRequirements(this.#requirements, text, PROFILE_MAX).map(({ id, score }) => ({ requirement: id, weight: score ** 2 }))
    const length = Math.hypot(...squares.map(({ weight }) => weight))
    return length === 0 ? [] : squares.map(({ requirement, weight }) => ({ requirement, weight: weight / length }))
  }
}
