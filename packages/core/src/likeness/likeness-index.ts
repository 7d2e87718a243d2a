import { analyseText } from './analyse-text.js'
import type { WordVectors } from './word-vectors.js'

/** What likeness is judged by: an item's texts and the paths that it names. */
export interface LikenessText {
  id: string
  title: string
  text: string
  /** Texts of another scope (product, project) are never alike. */
  scope: string
  component: string | null
}
/** A look-alike with its score from 0 to 1 and the words that speak for it. */
export interface LikenessHit {
  id: string
  /** Order only; not a probability (docs/rules.md#likeness). */
  score: number
  /** The words that both share, rarest first, and pairs of related words, for saying why. */
  sharedWords: string[]
  relatedWords: [string, string][]
  /** Words of its title that nothing in the text answers to, rarest first: what may be another thing there. They never lower the score. */
  otherWords: string[]
  /** The requirement that both concern most, where they are near enough to say so. */
  requirement: string | null
}

/**
 * How much it counts that two texts concern the same requirements. A title alone has few words and needs it: recall@5 on the sample reports
 * rises from 0.52 to 0.62. Beside a full text more than this puts another defect of the same requirement first where the right one stood
 * (at 0.2 in 7 of 11 contested pairs, at 0.03 in 3, as without).
 */
const KIN_SHARE = { text: 0.03, title: 0.3 } as const

/** From this nearness on it is said that two texts concern the same requirement. */
const KIN_SAID_FROM = 0.6
/** How far another text concerns the same requirements, from 0 to 1, and which of them both concern most. */
export interface Kin {
  share01: number
  requirement: string
}

/** A candidate that is less like than this share of the best one is not offered to people. */
const SHOWN_FROM = 0.6

/**
 * Of ranked candidates those that are worth somebody's eyes while they write: none that falls far behind the first. On the sample reports
 * this makes twice as many of those offered right (precision 0.17 to 0.25 among five) and loses few of the
 * right ones (recall 0.93 to 0.87); rankings and evaluations stay uncut.
 */
export function worthShowing(hits: readonly LikenessHit[]): LikenessHit[] {
  const best = hits[0]?.score ?? 0
  return hits.filter((hit) => hit.score >= SHOWN_FROM * best)
}

/** How much each part counts; fitted on the worked-on part of the corpus. */
export interface LikenessWeights {
  words: number
  alignment: number
  component: number
  titleWeight: number
  k1: number
  b: number
  /** Cosine from which two words count as related. */
  relatedFrom: number
  /** How strongly words that are frequent in general English count less, whatever their number here. */
  generality: number
}
/** Fitted by hand on two thirds of the sample reports; the other third was only used to report figures. */
export const defaultLikenessWeights: LikenessWeights = {
  words: 1,
  alignment: 0.8,
  component: 0.04,
  titleWeight: 2,
  k1: 1.2,
  b: 0.5,
  relatedFrom: 0.45,
  generality: 0.5,
}

interface Term {
  id: number
  stem: string
  rank: number
  weight: number
  word: string
}
interface Entry {
  text: LikenessText
  terms: Term[]
  length: number
}

/** Scores by slot, until they are cleared. */
interface WordScores {
  touched: readonly number[]
  of(slot: number): number
  clear(): void
}

const CANDIDATES = 40
/** At most this many postings (a word and a text that holds it) are read for one question, so that no question takes long. */
const POSTINGS_MAX = 30_000

/**
 * Finds the texts most like another. Candidates come from an inverted index (BM25, Robertson et al. 1994, fields weighted into term
 * frequency as in BM25F); the best are
 * scored again with a soft alignment: each word is matched with the most related word of the other text (cosine of word vectors), both
 * ways, weighted by rarity here and in general
 * English. Whole-text vectors and word pairs were tried and made the ranking worse. Cost of a question: the postings of its rarer words
 * (30,000 at most), and 40 alignments.
 */
export class LikenessIndex {
  readonly #vectors: WordVectors
  readonly #weights: LikenessWeights
  readonly #termIds = new Map<string, number>()
  readonly #postings: { entry: number[]; tf: number[] }[] = []
  readonly #entries: (Entry | null)[] = []
  readonly #slotById = new Map<string, number>()
  #scores = new Float64Array(0)
  #lengthSum = 0
  #count = 0

  constructor({ vectors, weights = defaultLikenessWeights }: { vectors: WordVectors; weights?: LikenessWeights }) {
    this.#vectors = vectors
    this.#weights = weights
  }

  get size(): number {
    return this.#count
  }

  /** Takes a text in, in place of an earlier one with the same id. */
  add(text: LikenessText): void {
    this.remove(text.id)
    const entry = this.#analyse(text, true)
    const slot = this.#entries.length
    this.#entries.push(entry)
    this.#slotById.set(text.id, slot)
    for (const term of entry.terms) {
      const posting = this.#postings[term.id]
      posting?.entry.push(slot)
      posting?.tf.push(term.weight)
    }
    this.#lengthSum += entry.length
    this.#count++
  }

  remove(id: string): void {
    const slot = this.#slotById.get(id)
    const entry = slot === undefined ? null : this.#entries[slot]
    if (slot === undefined || !entry) return
    // Postings keep the slot; a slot without an entry is passed over.
    this.#entries[slot] = null
    this.#slotById.delete(id)
    this.#lengthSum -= entry.length
    this.#count--
  }

  /**
   * The texts most like this one, best first; `admits` leaves texts out (itself is always left out). `kin` are texts that
   * concern the same requirements: candidates even where they share no word, and it counts a little for them.
   */
  find(
    text: LikenessText,
    { limit, admits = () => true, kin = new Map() }: { limit: number; admits?: (id: string) => boolean; kin?: ReadonlyMap<string, Kin> },
  ): LikenessHit[] {
    const query = this.#analyse(text, false)
    const words = this.#scoreWords(query)
    const isWanted = (entry: Entry) => entry.text.scope === text.scope && entry.text.id !== text.id && admits(entry.text.id)
    const byWords = this.#candidates(words, isWanted)
    const byKin = [...kin.keys()].flatMap((id) => {
      const slot = this.#slotById.get(id)
      const entry = slot === undefined ? null : this.#entries[slot]
      return slot !== undefined && entry && isWanted(entry) ? [slot] : []
    })
    const slots = [...new Set([...byWords, ...byKin])]
    const kinShare = text.text.trim() === '' ? KIN_SHARE.title : KIN_SHARE.text
    const self = this.#selfScore(query)
    const w = this.#weights
    const wordScores = slots.map((slot) => words.of(slot))
    words.clear()
    return slots
      .map((slot, index) => {
        const entry = this.#entries[slot] as Entry
        const alignment = this.#align(query, entry)
        const score =
          w.words * ((wordScores[index] ?? 0) / self) +
          w.alignment * alignment +
          kinShare * (kin.get(entry.text.id)?.share01 ?? 0) +
          (text.component !== null && entry.text.component === text.component ? w.component : 0)
        return { slot, score }
      })
      .sort((a, b) => b.score - a.score || a.slot - b.slot)
      .slice(0, limit)
      .map(({ slot, score }) => {
        const entry = this.#entries[slot] as Entry
        const { share01, requirement } = kin.get(entry.text.id) ?? { share01: 0, requirement: null }
        return { ...this.#explain(query, entry, score), requirement: share01 >= KIN_SAID_FROM ? requirement : null }
      })
  }

  #analyse(text: LikenessText, isKept: boolean): Entry {
    const byStem = new Map<string, Term>()
    let length = 0
    for (const token of analyseText(text, this.#weights.titleWeight)) {
      length += token.weight
      const known = byStem.get(token.stem)
      if (known) {
        known.weight += token.weight
        continue
      }
      let id = this.#termIds.get(token.stem) ?? -1
      if (id < 0 && isKept) {
        id = this.#postings.length
        this.#termIds.set(token.stem, id)
        this.#postings.push({ entry: [], tf: [] })
      }
      byStem.set(token.stem, { id, stem: token.stem, rank: this.#vectors.rankOf(token.word), weight: token.weight, word: token.word })
    }
    return { text, terms: [...byStem.values()], length }
  }

  #idf(term: Term): number {
    const df = term.id < 0 ? 0 : (this.#postings[term.id]?.entry.length ?? 0)
    return Math.log(1 + (this.#count - Math.min(df, this.#count) + 0.5) / (df + 0.5)) * this.#generalRarity(term.rank)
  }

  /**
   * 1 for words outside the list of common ones, down to near 0 for the most frequent: small collections cannot tell "got" from "kiln" by
   * counting.
   */
  #generalRarity(rank: number): number {
    return rank < 0 ? 1 : (Math.log(rank + 2) / Math.log(this.#vectors.size + 2)) ** this.#weights.generality
  }

  #saturate(tf: number, length: number): number {
    const { k1, b } = this.#weights
    const mean = this.#lengthSum / Math.max(1, this.#count)
    return (tf * (k1 + 1)) / (tf + k1 * (1 - b + (b * length) / Math.max(1, mean)))
  }

  /**
   * Adds up rarer words first, until so many postings were read that more common words could only reorder the tail; of a single posting
   * longer than that, the newest texts. Scores stand in one
   * array for all slots, which is cleared by the list of those touched: a map of 100,000 scores costs ten times as much.
   */
  #scoreWords(query: Entry): WordScores {
    if (this.#scores.length < this.#entries.length) this.#scores = new Float64Array(Math.max(1024, this.#entries.length * 2))
    const scores = this.#scores
    const touched: number[] = []
    const known = query.terms
      .flatMap((term) => {
        const posting = term.id < 0 ? undefined : this.#postings[term.id]
        return posting && posting.entry.length > 0 ? [{ term, posting }] : []
      })
      .sort((a, b) => a.posting.entry.length - b.posting.entry.length)
    let read = 0
    for (const { term, posting } of known) {
      if (read > 0 && read + posting.entry.length > POSTINGS_MAX) break
      read += posting.entry.length
      const idf = this.#idf(term) * Math.min(2, Math.sqrt(term.weight))
      for (let at = Math.max(0, posting.entry.length - POSTINGS_MAX); at < posting.entry.length; at++) {
        const slot = posting.entry[at] ?? 0
        const entry = this.#entries[slot]
        if (!entry) continue
        const before = scores[slot] ?? 0
        if (before === 0) touched.push(slot)
        scores[slot] = before + idf * this.#saturate(posting.tf[at] ?? 0, entry.length)
      }
    }
    return {
      touched,
      of: (slot) => scores[slot] ?? 0,
      clear: () => {
        for (const slot of touched) scores[slot] = 0
      },
    }
  }

  #selfScore(query: Entry): number {
    let sum = 0
    for (const term of query.terms) sum += this.#idf(term) * Math.min(2, Math.sqrt(term.weight)) * this.#saturate(term.weight, query.length)
    return Math.max(sum, 1e-9)
  }

  #candidates(words: WordScores, isWanted: (entry: Entry) => boolean): number[] {
    const best = new TopSlots(CANDIDATES)
    for (const slot of words.touched) {
      const score = words.of(slot)
      if (score > best.floor && isWanted(this.#entries[slot] as Entry)) best.add(slot, score)
    }
    return best.slots()
  }

  /** Share of the rarity on both sides that finds a same or related word on the other. */
  #align(a: Entry, b: Entry): number {
    return (this.#coverage(a, b) + this.#coverage(b, a)) / 2
  }

  #coverage(from: Entry, to: Entry): number {
    let covered = 0
    let total = 0
    for (const term of from.terms) {
      const weight = this.#idf(term) * Math.min(2, Math.sqrt(term.weight))
      total += weight
      covered += weight * this.#bestMatch(term, to).relatedness
    }
    return total === 0 ? 0 : covered / total
  }

  #bestMatch(term: Term, to: Entry): { relatedness: number; other: Term | null } {
    let best = 0
    let other: Term | null = null
    for (const candidate of to.terms) {
      if (candidate.id >= 0 && candidate.id === term.id) return { relatedness: 1, other: candidate }
      if (term.rank < 0 || candidate.rank < 0) continue
      const cosine = this.#vectors.cosine(term.rank, candidate.rank)
      if (cosine > this.#weights.relatedFrom && cosine > best) {
        best = cosine
        other = candidate
      }
    }
    return { relatedness: best === 0 ? 0 : (best - this.#weights.relatedFrom) / (1 - this.#weights.relatedFrom), other }
  }

  /** The rarest words of a text's title to which nothing of another text answers, neither the same nor a related one. */
  #unanswered(of: Entry, by: Entry): string[] {
    const inTitle = new Set(analyseText({ title: of.text.title, text: '' }).map((token) => token.stem))
    return of.terms
      .filter((term) => inTitle.has(term.stem) && this.#bestMatch(term, by).other === null)
      .sort((a, b) => this.#idf(b) - this.#idf(a))
      .slice(0, 3)
      .map((term) => term.word)
  }

  #explain(query: Entry, entry: Entry, score: number): Omit<LikenessHit, 'requirement'> {
    const shared: { word: string; idf: number }[] = []
    const related: { pair: [string, string]; weight: number }[] = []
    for (const term of query.terms) {
      const { relatedness, other } = this.#bestMatch(term, entry)
      if (!other) continue
      if (other.id === term.id) shared.push({ word: term.word, idf: this.#idf(term) })
      else if (relatedness > 0.3) related.push({ pair: [term.word, other.word], weight: relatedness * this.#idf(term) })
    }
    return {
      id: entry.text.id,
      score,
      sharedWords: shared
        .sort((a, b) => b.idf - a.idf)
        .slice(0, 5)
        .map(({ word }) => word),
      relatedWords: related
        .sort((a, b) => b.weight - a.weight)
        .slice(0, 3)
        .map(({ pair }) => pair),
      otherWords: this.#unanswered(entry, query),
    }
  }
}

/** The best few of many by score, in one pass. */
class TopSlots {
  readonly #limit: number
  #kept: { slot: number; score: number }[] = []
  /** A score at or below this is not among the best. */
  floor = Number.NEGATIVE_INFINITY

  constructor(limit: number) {
    this.#limit = limit
  }

  add(slot: number, score: number): void {
    this.#kept.push({ slot, score })
    if (this.#kept.length >= this.#limit * 4) this.#shrink()
  }

  slots(): number[] {
    this.#shrink()
    return this.#kept.map(({ slot }) => slot)
  }

  #shrink(): void {
    this.#kept = this.#kept.sort((a, b) => b.score - a.score || a.slot - b.slot).slice(0, this.#limit)
    if (this.#kept.length === this.#limit) this.floor = this.#kept.at(-1)?.score ?? this.floor
  }
}
