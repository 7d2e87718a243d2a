import { LikenessIndex } from './likeness-index.js'
import type { WordVectors } from './word-vectors.js'

/** A requirement to which links are looked for; `chapter` is the heading that it stands below. */
export interface TraceRequirement {
  key: string
  text: string
  chapter: string
}
/** What may have been made for a requirement: its text begins with what stands for a title. */
export interface TraceArtefact {
  id: string
  kind: 'item' | 'test' | 'file' | 'commit'
  text: string
  paths: readonly string[]
}
/** A link that is proposed; `isDecided` where it is sure enough to be taken without looking. */
export interface TraceLink {
  id: string
  score: number
  isDecided: boolean
}
/** How much each part counts; see the defaults. */
export interface TraceWeights {
  neighbours: number
  closeness: number
  pathShare: number
  /** How much is taken from neighbours in a step, and how many steps. */
  spread: number
  steps: number
  /** How much scores behind an artefact's best one count less. */
  sharpness: number
  /** How much a better requirement for the same artefact takes away. */
  rivalry: number
  decidedFrom: number
  decidedMargin: number
}
/** Fitted by hand on a world made of the sample reports and commits (docs/decisions/015). */
export const defaultTraceWeights: TraceWeights = {
  neighbours: 6,
  closeness: 1,
  pathShare: 0.5,
  spread: 0.5,
  steps: 3,
  sharpness: 1,
  rivalry: 1,
  decidedFrom: 0.33,
  decidedMargin: 1.1,
}

const SCOPE = 'trace'
const LINKS_MAX = 40
/** A requirement that is named outright outweighs whatever words say. */
const NAMED = 4

/**
 * Proposes which items, tests, files and commits belong to which requirement. Words are compared first (the likeness index over the
 * requirements, asked by each artefact); then artefacts that read alike and those that touch the same files
 * speak for each other, since what is near a requirement's words names what is not (label spreading on the
 * graph of likeness and shared paths, after Zhu and Ghahramani 2002); last each artefact's requirements
 * compete. A requirement that is named by its key is linked outright. Cost: two questions to a likeness index
 * for each artefact, and the pairs that share a path.
 */
export function proposeTraceLinks(
  requirements: readonly TraceRequirement[],
  artefacts: readonly TraceArtefact[],
  vectors: WordVectors,
  weights: TraceWeights = defaultTraceWeights,
): Map<string, TraceLink[]> {
  const index = new LikenessIndex({ vectors })
  // Words of the chapter were tried and made the ranking worse: they are those of its neighbours, too.
  for (const { key, text } of requirements) index.add({ id: key, title: '', text, scope: SCOPE, component: null })
  const words = artefacts.map((artefact) => sharpened(wordScores(index, artefact, requirements.length), weights))
  const spread = spreadScores(words, graphOf(artefacts, vectors, weights), weights)
  const keys = requirements.map((requirement) => requirement.key)
  const links = new Map<string, TraceLink[]>(keys.map((key) => [key, []]))
  for (const [at, artefact] of artefacts.entries()) {
    const scores = spread[at] ?? new Map<string, number>()
    const named = namedIn(artefact, keys)
    const ranked = [...scores].sort((a, b) => b[1] - a[1])
    const [best = 0, second = 0] = ranked.map(([, score]) => score)
    const first = ranked[0]?.[0]
    for (const key of new Set([...scores.keys(), ...named])) {
      const raw = scores.get(key) ?? 0
      const isNamed = named.has(key)
      const score = (best === 0 ? 0 : raw * (raw / best) ** weights.rivalry) + (isNamed ? NAMED : 0)
      const isSure = key === first && raw >= weights.decidedFrom && raw >= second * weights.decidedMargin
      links.get(key)?.push({ id: artefact.id, score, isDecided: isNamed || isSure })
    }
  }
  for (const [key, found] of links) links.set(key, found.sort((a, b) => b.score - a.score || (a.id < b.id ? -1 : 1)).slice(0, LINKS_MAX))
  return links
}

type Scores = Map<string, number>

function textOf({ text, paths }: TraceArtefact): { title: string; text: string } {
  const [title = '', ...rest] = text.split('\n')
  const names = paths.flatMap((path) => path.split(/[/._-]/)).join(' ')
  return { title, text: `${rest.join('\n')}\n${names}` }
}

function wordScores(index: LikenessIndex, artefact: TraceArtefact, limit: number): Scores {
  const hits = index.find({ id: '', ...textOf(artefact), scope: SCOPE, component: null }, { limit: Math.min(limit, 60) })
  return new Map(hits.map(({ id, score }) => [id, score]))
}

/** Scores that fall far behind the best are noise: each is weighed by its share of it. */
function sharpened(scores: Scores, { sharpness }: TraceWeights): Scores {
  const best = Math.max(0, ...scores.values())
  return new Map([...scores].map(([key, score]) => [key, best === 0 ? 0 : score * (score / best) ** sharpness]))
}

interface Edge {
  to: number
  weight: number
}

/**
 * Who speaks for whom: artefacts that read alike, and those that touch the same files, the fewer touch a file
 * the louder. Rows sum to 1.
 */
function graphOf(artefacts: readonly TraceArtefact[], vectors: WordVectors, weights: TraceWeights): Edge[][] {
  const index = new LikenessIndex({ vectors })
  const position = new Map(artefacts.map((artefact, at) => [artefact.id, at]))
  for (const artefact of artefacts) index.add({ id: artefact.id, ...textOf(artefact), scope: SCOPE, component: null })
  const byPlace = new Map<string, number[]>()
  const placesOf = artefacts.map(({ paths }) => [...new Set(paths.map(placeOf))])
  for (const [at, places] of placesOf.entries()) for (const place of places) byPlace.set(place, [...(byPlace.get(place) ?? []), at])
  return artefacts.map((artefact, at) => {
    const edges = new Map<number, number>()
    const add = (to: number, weight: number) => edges.set(to, (edges.get(to) ?? 0) + weight)
    const alike = index.find({ id: artefact.id, ...textOf(artefact), scope: SCOPE, component: null }, { limit: weights.neighbours })
    for (const { id, score } of alike) add(position.get(id) ?? at, score ** weights.closeness)
    const places = placesOf[at] ?? []
    for (const place of places) {
      const peers = (byPlace.get(place) ?? []).filter((peer) => peer !== at)
      for (const peer of peers) add(peer, (weights.pathShare / (1 + peers.length)) * (1 / Math.sqrt(places.length)))
    }
    const sum = [...edges.values()].reduce((total, weight) => total + weight, 0)
    return [...edges].map(([to, weight]) => ({ to, weight: weight / Math.max(sum, 1e-9) }))
  })
}

/** Label spreading: each keeps a part of what its own words say, and takes the rest from its neighbours. */
function spreadScores(words: readonly Scores[], graph: readonly Edge[][], { spread, steps }: TraceWeights): Scores[] {
  let now = [...words]
  for (let step = 0; step < steps; step++)
    now = words.map((own, at) => {
      const sum: Scores = new Map([...own].map(([key, score]) => [key, (1 - spread) * score]))
      for (const { to, weight } of graph[at] ?? [])
        for (const [key, score] of now[to] ?? []) sum.set(key, (sum.get(key) ?? 0) + spread * weight * score)
      return sum
    })
  return now
}

/** `src/relay.js` and `test/relay.test.js` are one place. */
function placeOf(path: string): string {
  const name = path.slice(path.lastIndexOf('/') + 1).toLowerCase()
  return name.replace(/\.[a-z0-9]+$/, '').replace(/(?:[._-](?:test|spec|tests))$|^(?:test|spec)[._-]/, '')
}

const KEY = /\b[A-Z][A-Z0-9]{1,9}-\d+\b/g
function namedIn({ text }: TraceArtefact, keys: readonly string[]): Set<string> {
  const known = new Set(keys)
  return new Set([...text.matchAll(KEY)].map(([key]) => key).filter((key) => known.has(key)))
}
