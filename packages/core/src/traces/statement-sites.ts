import { templateLikeness } from './mask-message.js'
import type { FailedStatement } from './statement.js'

/** A statement of one release that failed. */
export interface Site {
  service: string
  file: string
  /** The function as printed: its own lines say nothing of how far it has moved. */
  function: string | null
  release: string
  position: number
  column: number | null
  sources: Set<string>
  templates: Set<string>
}
/** The same statement through the releases. */
export interface Cluster<Of extends Site = Site> {
  sites: Of[]
}

/** A built file has all in one line: there the column tells statements apart. */
const BUILT_COLUMN = 400
const COLUMNS_PER_LINE = 1_000_000

/** Where a statement stands, as a number that orders the statements of a file; nought for recursion, which stops anywhere. */
export function positionOf({ frame, isRecursion }: FailedStatement): number {
  if (isRecursion || frame?.line == null) return 0
  const isBuilt = frame.line <= 3 && (frame.column ?? 0) > BUILT_COLUMN
  return frame.line * COLUMNS_PER_LINE + (isBuilt ? (frame.column ?? 0) : 0)
}
/** The line, from 1, of a packed position. */
export const lineOf = (position: number): number => Math.floor(position / COLUMNS_PER_LINE)

/** A site from the first trace of it. */
export function siteOf({ service, release, statement }: { service: string; release: string; statement: FailedStatement }): Site {
  return {
    service,
    file: statement.file,
    function: statement.frame?.function ?? null,
    release,
    position: positionOf(statement),
    column: null,
    sources: new Set(),
    templates: new Set(),
  }
}

/** Adds what one more trace says of a site. */
export function addTo(site: Site, statement: FailedStatement): void {
  site.column ??= statement.frame?.column ?? null
  if (statement.frame?.source !== undefined) site.sources.add(statement.frame.source.replace(/\s+/g, ' '))
  if (statement.template !== '') site.templates.add(statement.template)
}

/** Service, type, file and function; where there is no frame at all, what the message means. */
export function placeOf(service: string, statement: FailedStatement): string {
  const guard = statement.guard?.function ?? ''
  return [
    service,
    statement.type,
    statement.frame ? `${statement.file}\n${statement.function ?? ''}\n${guard === '' ? '' : 'guarded'}` : `message\n${statement.template}`,
  ].join('\n')
}

/** How much speaks for a site being a statement known from other releases: above nought, they are one. */
export function likeness(cluster: Cluster, site: Site, moves: LineMoves): number {
  let score = 0.6
  const sources = new Set(cluster.sites.flatMap((one) => [...one.sources]))
  if (sources.size > 0 && site.sources.size > 0) score += [...site.sources].some((source) => sources.has(source)) ? 4 : -6
  const columns = cluster.sites.flatMap((one) => one.column ?? [])
  if (site.column !== null && columns.length > 0 && positionIsLine(site)) score += columns.includes(site.column) ? 1.5 : -1
  const templates = new Set(cluster.sites.flatMap((one) => [...one.templates]))
  if (templates.size > 0 && site.templates.size > 0) {
    const alike = Math.max(...[...site.templates].flatMap((a) => [...templates].map((b) => templateLikeness(a, b))))
    score += alike === 1 ? 0.5 : alike < 0.4 ? -1.5 : 0
  }
  const last = cluster.sites.at(-1)
  if (last && moves.knows(last, site.release)) {
    const off = Math.abs(lineOf(moves.moved(last, site.release)) - lineOf(site.position))
    score += Math.max(-0.5, 1.2 - 0.3 * off)
  }
  return score
}

const positionIsLine = (site: Site): boolean => site.position % COLUMNS_PER_LINE === 0

/** File, function and line of a frame. */
export type SeenLine = [file: string, name: string, line: number]

/** The lines of the program's own frames, as far as they have a name. */
export function linesOf(statement: FailedStatement): SeenLine[] {
  return statement.appFrames.flatMap((frame): SeenLine[] =>
    frame.line === null || frame.function === null || frame.file === null
      ? []
      : [[frame.file.split(/[\\/]/).at(-1) ?? '', frame.function, frame.line]],
  )
}

/** How far the lines of a file have moved between two releases, seen at functions that stand at one line in each. */
export class LineMoves {
  /** By service and file, then by function, then by release: the lines seen. */
  readonly #seen = new Map<string, Map<string, Map<string, Set<number>>>>()

  /** Notes at which lines functions were seen in a release. */
  note(service: string, release: string, seen: readonly SeenLine[]): void {
    for (const [name, at, line] of seen) {
      const file = getOr(this.#seen, `${service}\n${name}`, () => new Map<string, Map<string, Set<number>>>())
      getOr(
        getOr(file, at, () => new Map<string, Set<number>>()),
        release,
        () => new Set<number>(),
      ).add(line)
    }
  }

  knows(from: Site, release: string): boolean {
    return this.#shift(from, release) !== null
  }

  /** Where a position of one release is to be looked for in another; the same where nothing is known. */
  moved(from: Site | undefined, release: string): number {
    return from === undefined ? 0 : from.position + (this.#shift(from, release) ?? 0) * COLUMNS_PER_LINE
  }

  #shift(from: Site, release: string): number | null {
    const functions = this.#seen.get(`${from.service}\n${from.file.split('/').at(-1)}`)
    if (!functions) return null
    let nearest: { distance: number; shift: number } | null = null
    for (const [name, byRelease] of functions) {
      const before = byRelease.get(from.release)
      const after = byRelease.get(release)
      if (name === from.function || before?.size !== 1 || after?.size !== 1) continue
      const [a = 0, b = 0] = [[...before][0], [...after][0]]
      const distance = Math.abs(a - lineOf(from.position))
      if (nearest === null || distance < nearest.distance) nearest = { distance, shift: b - a }
    }
    return nearest?.shift ?? null
  }
}

/** Adds a value to the list that a map keeps under a key, making the list at its first value. */
export function pushTo<Key, Value>(map: Map<Key, Value[]>, key: Key, value: Value): void {
  const known = map.get(key)
  if (known) known.push(value)
  else map.set(key, [value])
}

/** The value that a map keeps under a key, made and kept if there is none. */
export function getOr<Key, Value>(map: Map<Key, Value>, key: Key, make: () => Value): Value {
  const known = map.get(key) ?? make()
  map.set(key, known)
  return known
}

/** Pairs in the order of both sides with the greatest sum of likeness, leaving out whatever has none. */
export function align<A, B>(left: readonly A[], right: readonly B[], like: (a: A, b: B) => number): [A, B][] {
  const scores = left.map((a) => right.map((b) => like(a, b)))
  const best: number[][] = Array.from({ length: left.length + 1 }, () => new Array<number>(right.length + 1).fill(0))
  for (let i = left.length - 1; i >= 0; i--)
    for (let j = right.length - 1; j >= 0; j--) {
      const pair = scores[i]?.[j] ?? 0
      const joined = pair > 0 ? pair + (best[i + 1]?.[j + 1] ?? 0) : Number.NEGATIVE_INFINITY
      const row = best[i]
      if (row) row[j] = Math.max(joined, best[i + 1]?.[j] ?? 0, row[j + 1] ?? 0)
    }
  const pairs: [A, B][] = []
  let [i, j] = [0, 0]
  while (i < left.length && j < right.length) {
    const here = best[i]?.[j] ?? 0
    const pair = scores[i]?.[j] ?? 0
    if (pair > 0 && here === pair + (best[i + 1]?.[j + 1] ?? 0)) pairs.push([left[i++] as A, right[j++] as B])
    else if (here === (best[i + 1]?.[j] ?? 0)) i++
    else j++
  }
  return pairs
}
