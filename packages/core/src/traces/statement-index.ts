import type { FailedStatement } from './statement.js'
import { addTo, getOr, likeness, LineMoves, linesOf, placeOf, siteOf, type Cluster, type SeenLine, type Site } from './statement-sites.js'

/** A site as it is kept: which fault it is, and what later traces are held against. */
export interface KeptSite {
  service: string
  place: string
  fault: string
  release: string
  position: number
  file: string
  function: string | null
  column: number | null
  sources: string[]
  templates: string[]
  lines: SeenLine[]
}
export interface Assigned {
  fault: string
  /** How it was found: at a known line, as a known statement whose line has moved, or as nothing that was known. */
  by: 'line' | 'followed' | 'new'
  /** What is to be kept, when the site was not known yet. */
  kept: KeptSite | null
}

interface FaultCluster extends Cluster {
  fault: string
}

/**
 * Which fault a trace belongs to, one after the other as they arrive: the same rules as `groupFaults`, with what is known so far. Cost: a look-up for a known line, else one comparison for each
 * statement of the function. Memory: one entry for each failed line and release.
 */
export class StatementIndex {
  readonly #places = new Map<string, FaultCluster[]>()
  /** For traces without a function: clusters by service, type and file. */
  readonly #files = new Map<string, FaultCluster[]>()
  readonly #moves = new LineMoves()

  /** Takes in what was kept. */
  load(kept: KeptSite): void {
    this.#moves.note(kept.service, kept.release, kept.lines)
    const site: Site = { ...kept, sources: new Set(kept.sources), templates: new Set(kept.templates) }
    this.#clusterOf(kept.place, kept.fault, fileKey(kept.service, typeIn(kept.place), kept.file)).sites.push(site)
  }

  /** The fault of a trace; `nameNew` names one that was not known. */
  assign(trace: { service: string; release: string; statement: FailedStatement }, nameNew: () => string): Assigned {
    const { service, release, statement } = trace
    const place = placeOf(service, statement)
    const site = siteOf(trace)
    addTo(site, statement)
    const clusters = this.#candidates(place, service, statement)
    const at = clusters.find((cluster) =>
      cluster.sites.some((one) => one.release === release && one.position === site.position && one.file === site.file),
    )
    if (at) return { fault: at.fault, by: 'line', kept: null }
    const lines = linesOf(statement)
    this.#moves.note(service, release, lines)
    const best = clusters
      // Another line of the same release is another statement.
      .filter((cluster) => !cluster.sites.some((one) => one.release === release && release !== ''))
      .map((cluster) => ({ cluster, score: likeness(cluster, site, this.#moves) }))
      .sort((a, b) => b.score - a.score)[0]
    const isFollowed = best !== undefined && best.score > (statement.function === null ? 1.5 : 0)
    const fault = isFollowed ? best.cluster.fault : nameNew()
    this.#clusterOf(place, fault, fileKey(service, statement.type, statement.file)).sites.push(site)
    return {
      fault,
      by: isFollowed ? 'followed' : 'new',
      kept: { ...site, place, fault, sources: [...site.sources], templates: [...site.templates].slice(0, 3), lines },
    }
  }

  /** Forgets at which lines of one release certain faults failed. */
  forget({ service, release }: { service: string; release: string }, faults: ReadonlySet<string>): void {
    for (const [place, clusters] of this.#places) {
      if (!place.startsWith(`${service}\n`)) continue
      for (const cluster of clusters)
        if (faults.has(cluster.fault)) cluster.sites = cluster.sites.filter((site) => site.service !== service || site.release !== release)
    }
  }

  /** Makes one fault of two: what was the one's is the other's from now on. */
  merge(from: string, into: string): void {
    for (const clusters of [...this.#places.values(), ...this.#files.values()])
      for (const cluster of clusters) if (cluster.fault === from) cluster.fault = into
  }

  /** Takes a line out of a fault and makes another fault of it. */
  split(from: string, at: { release: string; position: number }, fault: string): void {
    for (const [place, clusters] of this.#places)
      for (const cluster of [...clusters]) {
        if (cluster.fault !== from) continue
        const taken = cluster.sites.filter((site) => site.release === at.release && site.position === at.position)
        cluster.sites = cluster.sites.filter((site) => !taken.includes(site))
        for (const site of taken) this.#clusterOf(place, fault, fileKey(site.service, typeIn(place), site.file)).sites.push(site)
      }
  }

  #candidates(place: string, service: string, statement: FailedStatement): FaultCluster[] {
    if (statement.frame === null || statement.function !== null) return this.#places.get(place) ?? []
    return this.#files.get(fileKey(service, statement.type, statement.file)) ?? []
  }

  #clusterOf(place: string, fault: string, file: string): FaultCluster {
    const clusters = getOr(this.#places, place, () => [])
    const known = clusters.find((cluster) => cluster.fault === fault)
    if (known) return known
    const cluster: FaultCluster = { fault, sites: [] }
    clusters.push(cluster)
    getOr(this.#files, file, () => []).push(cluster)
    return cluster
  }
}

const fileKey = (service: string, type: string, file: string): string => `${service}\n${type}\n${file}`
/** A place begins with its service and type. */
const typeIn = (place: string): string => place.split('\n')[1] ?? ''
