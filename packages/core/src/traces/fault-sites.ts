import { templateLikeness } from './mask-message.js'
import type { FailedStatement } from './statement.js'
import {
  addTo,
  align,
  likeness,
  LineMoves,
  linesOf,
  placeOf,
  positionOf,
  pushTo,
  siteOf,
  type Cluster,
  type Site,
} from './statement-sites.js'

interface TracedSite extends Site {
  traces: SitedTrace[]
}
type TracedCluster = Cluster<TracedSite>

/** One trace as it is grouped: what failed, in which service, in which release. */
export interface SitedTrace {
  id: string
  service: string
  release: string
  atMs: number
  statement: FailedStatement
}

/**
 * Groups traces into faults, each a statement followed through the releases. Within a release a statement is its line: traces of one line
 * are one fault, those of two lines are two. From release to
 * release lines move; there the statements of one function are matched in their order, by the source line where the runtime prints it, the
 * column, the message's meaning, and by how far other frames
 * of the same file have moved. Own method; the matching is a monotone alignment by dynamic programming (Needleman and Wunsch, 1970) over
 * the few statements of one function. Cost: O(n log n) in the
 * traces, and for each function O(statements²) a release. Gives the group of each trace by its id; a group is named by its first trace.
 */
export function groupFaults(traces: readonly SitedTrace[]): Map<string, string> {
  const ordered = [...traces].sort((a, b) => a.atMs - b.atMs || a.id.localeCompare(b.id))
  const moves = new LineMoves()
  for (const { service, release, statement } of ordered) moves.note(service, release, linesOf(statement))
  const places = new Map<string, SitedTrace[]>()
  const placeless: SitedTrace[] = []
  for (const trace of ordered) {
    // Without a back trace only the line says which function it was.
    if (trace.statement.frame !== null && trace.statement.function === null) placeless.push(trace)
    else pushTo(places, placeOf(trace.service, trace.statement), trace)
  }
  const clusters: { service: string; file: string; type: string; cluster: TracedCluster }[] = []
  for (const [, members] of places) {
    const [one] = members
    if (!one) continue
    for (const cluster of followStatements(members, moves))
      clusters.push({ service: one.service, file: one.statement.file, type: one.statement.type, cluster })
  }
  joinPlaceless(placeless, clusters, moves)
  const groupById = new Map<string, string>()
  for (const { cluster } of clusters) {
    const members = cluster.sites.flatMap((site) => site.traces)
    const name = members.reduce((first, trace) =>
      trace.atMs < first.atMs || (trace.atMs === first.atMs && trace.id < first.id) ? trace : first,
    ).id
    for (const trace of members) groupById.set(trace.id, name)
  }
  return groupById
}

function sitesOf(members: readonly SitedTrace[]): Map<string, TracedSite[]> {
  const byRelease = new Map<string, Map<number, TracedSite>>()
  for (const trace of members) {
    const { statement, release } = trace
    const position = positionOf(statement)
    const sites = byRelease.get(release) ?? new Map<number, TracedSite>()
    byRelease.set(release, sites)
    const site = sites.get(position) ?? { ...siteOf(trace), traces: [] }
    sites.set(position, site)
    addTo(site, statement)
    site.traces.push(trace)
  }
  return new Map([...byRelease].map(([release, sites]) => [release, [...sites.values()].sort((a, b) => a.position - b.position)]))
}

/** The statements of one function, each followed through the releases in the order in which these were first heard of. */
function followStatements(members: readonly SitedTrace[], moves: LineMoves): TracedCluster[] {
  let clusters: TracedCluster[] = []
  for (const [, sites] of sitesOf(members)) {
    const pairs = align(clusters, sites, (cluster, site) => likeness(cluster, site, moves))
    const taken = new Set<TracedSite>()
    for (const [cluster, site] of pairs) {
      cluster.sites.push(site)
      taken.add(site)
    }
    // New statements take their place between those that were matched around them.
    const order = new Map<TracedCluster, number>()
    for (const cluster of clusters) order.set(cluster, moves.moved(cluster.sites.at(-1), sites[0]?.release ?? ''))
    for (const site of sites) if (!taken.has(site)) clusters.push({ sites: [site] })
    clusters = clusters.sort((a, b) => (order.get(a) ?? a.sites[0]?.position ?? 0) - (order.get(b) ?? b.sites[0]?.position ?? 0))
  }
  return clusters
}

/** Traces that name a line and no function: the same line of the same release in another trace, else what is alike in the same file. */
function joinPlaceless(
  placeless: readonly SitedTrace[],
  clusters: { service: string; file: string; type: string; cluster: TracedCluster }[],
  moves: LineMoves,
): void {
  const rest = new Map<string, SitedTrace[]>()
  for (const trace of placeless) {
    const { statement, service, release } = trace
    const position = positionOf(statement)
    const fitting = clusters.filter(
      (entry) =>
        entry.service === service &&
        entry.type === statement.type &&
        entry.cluster.sites.some(
          (site) =>
            (site.release === release && (site.file === statement.file ? site.position === position : false)) ||
            siteOfGuard(site, release, statement),
        ),
    )
    // Several callers of one guard stand behind its line: the message tells which.
    const known = fitting
      .map((entry) => ({ entry, score: saysAlike(entry.cluster, statement.template) }))
      .sort((a, b) => b.score - a.score)[0]?.entry
    if (known) {
      const site =
        known.cluster.sites.find((one) => one.release === release && one.position === position) ??
        known.cluster.sites.find((one) => one.release === release)
      site?.traces.push(trace)
    } else pushTo(rest, placeOf(trace.service, trace.statement), trace)
  }
  for (const [, members] of rest) {
    const [one] = members
    if (!one) continue
    for (const cluster of followStatements(members, moves)) {
      const site = cluster.sites[0]
      const near = clusters
        .filter((entry) => entry.service === one.service && entry.file === one.statement.file && entry.type === one.statement.type)
        .filter(
          (entry) =>
            !cluster.sites.some((own) =>
              entry.cluster.sites.some((other) => other.release === own.release && other.position !== own.position),
            ),
        )
        .map((entry) => ({ entry, score: site ? likeness(entry.cluster, site, moves) : 0 }))
        .sort((a, b) => b.score - a.score)[0]
      if (near && near.score > 1.5) near.entry.cluster.sites.push(...cluster.sites)
      else clusters.push({ service: one.service, file: one.statement.file, type: one.statement.type, cluster })
    }
  }
}

/** How much a template shares with the nearest one of a cluster. */
function saysAlike(cluster: TracedCluster, template: string): number {
  return Math.max(0, ...cluster.sites.flatMap((site) => [...site.templates].map((known) => templateLikeness(known, template))))
}

/** Whether a trace without a caller stands at the guard of a site of this release. */
function siteOfGuard(site: TracedSite, release: string, statement: FailedStatement): boolean {
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
