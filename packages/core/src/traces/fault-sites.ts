import { templateLikeness } from './mask-message.js'
import type { FailedStatement } from './statement.js'

/** One trace as it is grouped: what failed, in which service, in which release. */
export interface SitedTrace {
  id: string
  service: string
  release: string
  atMs: number
  statement: FailedStatement
}

/** A statement of one release that failed: all traces that name this line. */
interface Site {
  release: string
  position: number
  column: number | null
  sources: Set<string>
  templates: Set<string>
  traces: SitedTrace[]
}
/** The same statement through the releases. */
interface Cluster {
  sites: Site[]
}

/** A built file has all in one line: there the column tells statements apart. */
const BUILT_COLUMN = 400
const COLUMNS_PER_LINE = 1_000_000

function positionOf({ frame, isRecursion }: FailedStatement): number {
  if (isRecursion || frame?.line == null) return 0
  const isBuilt = frame.line <= 3 && (frame.column ?? 0) > BUILT_COLUMN
  return frame.line * COLUMNS_PER_LINE + (isBuilt ? (frame.column ?? 0) : 0)
}
const lineOf = (position: number): number => Math.floor(position / COLUMNS_PER_LINE)

/**
 * Groups traces into faults, each a statement followed through the releases. Within a release a statement is its line: traces of one line are one fault, those of two lines are two. From release to
 * release lines move; there the statements of one function are matched in their order, by the source line where the runtime prints it, the column, the message's meaning, and by how far other frames
 * of the same file have moved. Own method; the matching is a monotone alignment by dynamic programming (Needleman and Wunsch, 1970) over the few statements of one function. Cost: O(n log n) in the
 * traces, and for each function O(statements²) a release. Gives the group of each trace by its id; a group is named by its first trace.
 */
export function groupFaults(traces: readonly SitedTrace[]): Map<string, string> {
  const ordered = [...traces].sort((a, b) => a.atMs - b.atMs || a.id.localeCompare(b.id))
  const moves = new LineMoves(ordered)
  const places = new Map<string, SitedTrace[]>()
  const placeless: SitedTrace[] = []
  for (const trace of ordered) {
    // Without a back trace only the line says which function it was.
    if (trace.statement.frame !== null && trace.statement.function === null) placeless.push(trace)
    else pushTo(places, placeOf(trace), trace)
  }
  const clusters: { service: string; file: string; type: string; cluster: Cluster }[] = []
  for (const [, members] of places) {
    const [one] = members
    if (!one) continue
    for (const cluster of followStatements(members, moves, one.statement.file))
      clusters.push({ service: one.service, file: one.statement.file, type: one.statement.type, cluster })
  }
  joinPlaceless(placeless, clusters, moves)
  const groupById = new Map<string, string>()
  for (const { cluster } of clusters) {
    const members = cluster.sites.flatMap((site) => site.traces)
    const name = members.reduce((first, trace) => (trace.atMs < first.atMs || (trace.atMs === first.atMs && trace.id < first.id) ? trace : first)).id
    for (const trace of members) groupById.set(trace.id, name)
  }
  return groupById
}

/** Service, type, file and function; where there is no frame at all, what the message means. */
function placeOf({ service, statement }: SitedTrace): string {
  const guard = statement.guard?.function ?? ''
  return [
    service,
    statement.type,
    statement.frame ? `${statement.file}\n${statement.function ?? ''}\n${guard === '' ? '' : 'guarded'}` : `message\n${statement.template}`,
  ].join('\n')
}

function sitesOf(members: readonly SitedTrace[]): Map<string, Site[]> {
  const byRelease = new Map<string, Map<number, Site>>()
  for (const trace of members) {
    const { statement, release } = trace
    const position = positionOf(statement)
    const sites = byRelease.get(release) ?? new Map<number, Site>()
    byRelease.set(release, sites)
    const site = sites.get(position) ?? { release, position, column: null, sources: new Set(), templates: new Set(), traces: [] }
    sites.set(position, site)
    site.column ??= statement.frame?.column ?? null
    if (statement.frame?.source !== undefined) site.sources.add(statement.frame.source.replace(/\s+/g, ' '))
    if (statement.template !== '') site.templates.add(statement.template)
    site.traces.push(trace)
  }
  return new Map([...byRelease].map(([release, sites]) => [release, [...sites.values()].sort((a, b) => a.position - b.position)]))
}

/** The statements of one function, each followed through the releases in the order in which these were first heard of. */
function followStatements(members: readonly SitedTrace[], moves: LineMoves, file: string): Cluster[] {
  let clusters: Cluster[] = []
  for (const [, sites] of sitesOf(members)) {
    const pairs = align(clusters, sites, (cluster, site) => likeness(cluster, site, moves, file))
    const taken = new Set<Site>()
    for (const [cluster, site] of pairs) {
      cluster.sites.push(site)
      taken.add(site)
    }
    // New statements take their place between those that were matched around them.
    const order = new Map<Cluster, number>()
    for (const cluster of clusters) order.set(cluster, moves.moved(members[0]?.service ?? '', file, cluster.sites.at(-1), sites[0]?.release ?? ''))
    for (const site of sites) if (!taken.has(site)) clusters.push({ sites: [site] })
    clusters = clusters.sort((a, b) => (order.get(a) ?? a.sites[0]?.position ?? 0) - (order.get(b) ?? b.sites[0]?.position ?? 0))
  }
  return clusters
}

/** Pairs in the order of both sides with the greatest sum of likeness, leaving out whatever has none. */
function align<A, B>(left: readonly A[], right: readonly B[], like: (a: A, b: B) => number): [A, B][] {
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

/** How much speaks for a site being a statement known from other releases: above nought, they are one. */
function likeness(cluster: Cluster, site: Site, moves: LineMoves, file: string): number {
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
  const service = site.traces[0]?.service ?? ''
  if (last && moves.knows(service, file, last, site.release)) {
    const off = Math.abs(lineOf(moves.moved(service, file, last, site.release)) - lineOf(site.position))
    score += Math.max(-0.5, 1.2 - 0.3 * off)
  }
  return score
}

const positionIsLine = (site: Site): boolean => site.position % COLUMNS_PER_LINE === 0

/** Traces that name a line and no function: the same line of the same release in another trace, else what is alike in the same file. */
function joinPlaceless(
  placeless: readonly SitedTrace[],
  clusters: { service: string; file: string; type: string; cluster: Cluster }[],
  moves: LineMoves,
): void {
  const rest = new Map<string, SitedTrace[]>()
  for (const trace of placeless) {
    const { statement, service, release } = trace
    const position = positionOf(statement)
    const known = clusters.find(
      (entry) =>
        entry.service === service &&
        entry.type === statement.type &&
        entry.cluster.sites.some(
          (site) =>
            (site.release === release && (siteFile(site) === statement.file ? site.position === position : false)) ||
            siteOfGuard(site, release, statement),
        ),
    )
    if (known) {
      const site =
        known.cluster.sites.find((one) => one.release === release && one.position === position) ??
        known.cluster.sites.find((one) => one.release === release)
      site?.traces.push(trace)
    } else pushTo(rest, placeOf(trace), trace)
  }
  for (const [, members] of rest) {
    const [one] = members
    if (!one) continue
    for (const cluster of followStatements(members, moves, one.statement.file)) {
      const site = cluster.sites[0]
      const near = clusters
        .filter((entry) => entry.service === one.service && entry.file === one.statement.file && entry.type === one.statement.type)
        .filter(
          (entry) =>
            !cluster.sites.some((own) => entry.cluster.sites.some((other) => other.release === own.release && other.position !== own.position)),
        )
        .map((entry) => ({ entry, score: site ? likeness(entry.cluster, site, moves, entry.file) : 0 }))
        .sort((a, b) => b.score - a.score)[0]
      if (near && near.score > 1.5) near.entry.cluster.sites.push(...cluster.sites)
      else clusters.push({ service: one.service, file: one.statement.file, type: one.statement.type, cluster })
    }
  }
}

const siteFile = (site: Site): string => site.traces[0]?.statement.file ?? ''

/** Whether a trace without a caller stands at the guard of a site of this release. */
function siteOfGuard(site: Site, release: string, statement: FailedStatement): boolean {
  return (
    site.release === release &&
    site.traces.some(
      (trace) =>
        trace.statement.guard !== null &&
        trace.statement.guard.line === statement.frame?.line &&
        sameName(trace.statement.guard.file, statement.frame?.file ?? null),
    )
  )
}

function sameName(a: string | null, b: string | null): boolean {
  const base = (file: string | null) => (file ?? '').split(/[\\/]/).at(-1)
  return base(a) === base(b)
}

/** How far the lines of a file have moved between two releases, seen at functions that stand at one line in each. */
class LineMoves {
  /** By service and file, then by function, then by release: the lines seen. */
  readonly #seen = new Map<string, Map<string, Map<string, Set<number>>>>()

  constructor(traces: readonly SitedTrace[]) {
    for (const { service, release, statement } of traces)
      for (const frame of statement.appFrames) {
        if (frame.line === null || frame.function === null || frame.file === null) continue
        const file = getOr(this.#seen, `${service}\n${frame.file.split(/[\\/]/).at(-1)}`, () => new Map<string, Map<string, Set<number>>>())
        const lines = getOr(
          getOr(file, frame.function, () => new Map<string, Set<number>>()),
          release,
          () => new Set<number>(),
        )
        lines.add(frame.line)
      }
  }

  knows(service: string, file: string, from: Site, release: string): boolean {
    return this.#shift(service, file, from, release) !== null
  }

  /** Where a position of one release is to be looked for in another; the same where nothing is known. */
  moved(service: string, file: string, from: Site | undefined, release: string): number {
    return from === undefined ? 0 : from.position + (this.#shift(service, file, from, release) ?? 0) * COLUMNS_PER_LINE
  }

  #shift(service: string, file: string, from: Site, release: string): number | null {
    const functions = this.#seen.get(`${service}\n${file.split('/').at(-1)}`)
    if (!functions) return null
    const own = from.traces[0]?.statement.frame?.function
    let nearest: { distance: number; shift: number } | null = null
    for (const [name, byRelease] of functions) {
      const before = byRelease.get(from.release)
      const after = byRelease.get(release)
      if (name === own || before?.size !== 1 || after?.size !== 1) continue
      const [a = 0, b = 0] = [[...before][0], [...after][0]]
      const distance = Math.abs(a - lineOf(from.position))
      if (nearest === null || distance < nearest.distance) nearest = { distance, shift: b - a }
    }
    return nearest?.shift ?? null
  }
}

function pushTo<Key, Value>(map: Map<Key, Value[]>, key: Key, value: Value): void {
  const known = map.get(key)
  if (known) known.push(value)
  else map.set(key, [value])
}

function getOr<Key, Value>(map: Map<Key, Value>, key: Key, make: () => Value): Value {
  const known = map.get(key) ?? make()
  map.set(key, known)
  return known
}
