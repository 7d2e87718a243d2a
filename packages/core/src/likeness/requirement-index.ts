import { LikenessIndex, type LikenessHit } from './likeness-index.js'
import type { WordVectors } from './word-vectors.js'

const SCOPE = 'requirements'
/** So many requirements of a neighbour can speak for the report. */
const OF_NEIGHBOUR = 60
/** How much a neighbour's own score counts, beside its likeness. Chosen on two thirds of the sample's defects. */
const NEIGHBOUR_SHARE = 0.6
/** So many neighbours are of use; more add noise. */
export const NEIGHBOURS = 5

/** A like report and its likeness, whose requirement votes. */
export interface Neighbour {
  title: string
  text: string
  /** Its likeness to the report, as the likeness index scores it. */
  likeness: number
}

/** An index of requirements to be asked which one a report breaks: the likeness index over their titles and texts. */
export function makeRequirementIndex(
  requirements: Iterable<{ id: string; title: string; text: string }>,
  vectors: WordVectors,
): LikenessIndex {
  const index = new LikenessIndex({ vectors })
  for (const { id, title, text } of requirements) index.add({ id, title, text, scope: SCOPE, component: null })
  return index
}

/** The requirements whose own words are most like a text, best first. */
export function askRequirements(index: LikenessIndex, { title, text }: { title: string; text: string }, limit: number): LikenessHit[] {
  return index.find({ id: '', title, text, scope: SCOPE, component: null }, { limit })
}

/**
 * The requirements that a report may break, best first. Reporters describe symptoms in words that requirements do not use; reports that
 * look alike often say it in other words, so their scores
 * are added by their likeness (pseudo relevance feedback, after Rocchio 1971, on scores in place of words). Cost: one question to the index
 * for the report and for each neighbour.
 */
export function findRequirements(
  index: LikenessIndex,
  report: { title: string; text: string; neighbours: readonly Neighbour[] },
  limit: number,
): LikenessHit[] {
  const ask = (text: { title: string; text: string }) => askRequirements(index, text, OF_NEIGHBOUR)
  const hits = new Map(ask(report).map((hit) => [hit.id, hit]))
  for (const neighbour of report.neighbours.slice(0, NEIGHBOURS))
    for (const hit of ask(neighbour)) {
      // The words shared with a neighbour are not the report's own: it has none to show.
      const known = hits.get(hit.id) ?? { ...hit, score: 0, sharedWords: [], relatedWords: [] }
      hits.set(hit.id, { ...known, score: known.score + NEIGHBOUR_SHARE * neighbour.likeness * hit.score })
    }
  return [...hits.values()].sort((a, b) => b.score - a.score || (a.id < b.id ? -1 : 1)).slice(0, limit)
}
