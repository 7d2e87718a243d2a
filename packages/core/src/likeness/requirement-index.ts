import { LikenessIndex, type LikenessHit } from './likeness-index.js'
import type { WordVectors } from './word-vectors.js'

const SCOPE = 'requirements'

/** An index of requirements to be asked which one a report breaks: the likeness index over their titles and texts. */
export function makeRequirementIndex(requirements: Iterable<{ id: string; title: string; text: string }>, vectors: WordVectors): LikenessIndex {
  const index = new LikenessIndex({ vectors })
  for (const { id, title, text } of requirements) index.add({ id, title, text, scope: SCOPE, component: null })
  return index
}

/** The requirements that a report may break, best first. */
export function findRequirements(index: LikenessIndex, report: { title: string; text: string }, limit: number): LikenessHit[] {
  return index.find({ id: '', title: report.title, text: report.text, scope: SCOPE, component: null }, { limit })
}
