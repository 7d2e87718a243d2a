import type { FailedStatement } from './statement.js'
import {
  addTo,
  align,
  getOr,
  likeness,
  LineMoves,
  linesOf,
  placeOf,
  siteOf,
  type Cluster,
  type SeenLine,
  type Site,
} from './statement-sites.js'

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
/** The statement of the older text that a statement of the newer one is, or that it is new. */
export interface Assigned {
  fault: string
  /** How it was found: at a known line, as a known statement whose line has moved, or as nothing that was known. */
  by: 'line' | 'followed' | 'new'
  /** What is to be kept, when the site was not known yet. */
  kept: KeptSite | null
  /** Sites that turn out to be another fault's, now that more of their release is known. */
  moved: MovedSite[]
}
/** A site of one release that goes from one fault to another. */
export interface MovedSite {
  service: string
  release: string
  place: string
  position: number
  file: string
  from: string
  to: string
}
const NOTHING: readonly MovedSite[] = []

interface FaultCluster extends Cluster {
  fault: string
  place: string
}

/**
 * Which fault a trace belongs to, one after the other as they arrive: the same rules as `groupFaults`, with what is known so far. A line
 * that was not met yet has the statements of its function in
 * that release matched anew with those of the others, so that a first guess is put right; what people said stays. Cost: a look-up for a
 * known line, else O(statements²) of the function. Memory: one
 * entry for each failed line and release.
 */
export class StatementIndex {
  readonly #places = new Map<string, FaultCluster[]>()
  /** All clusters by service, type and file, for traces without a function. */
  readonly #files = new Map<string, FaultCluster[]>()
  readonly #moves = new LineMoves()
  readonly #held = new Set<string>()

  /** Takes in what was kept. */
  load(kept: KeptSite): void {
    this.#moves.note(kept.service, kept.release, kept.lines)
    const site: Site = { ...kept, sources: new Set(kept.sources), templates: new Set(kept.templates) }
    this.#clusterOf(kept.place, kept.fault, fileKey(kept.service, typeIn(kept.place), kept.file)).sites.push(site)
  }

  /** Faults that people had a say in: their sites stay. */
  hold(faults: Iterable<string>): void {
    for (const fault of faults) this.#held.add(fault)
  }

  /** The fault of a trace; `nameNew` names one that was not known, `nameSite` a known site that turns out to be none of those known. */
  assign(
    trace: { service: string; release: string; statement: FailedStatement },
    nameNew: () => string,
    nameSite: (site: Site, place: string) => string = nameNew,
  ): Assigned {
    const { service, release, statement } = trace
    const place = placeOf(service, statement)
    const site = siteOf(trace)
    addTo(site, statement)
    const clusters = this.#candidates(place, service, statement)
    const at = clusters.find((cluster) => cluster.sites.some((one) => isSame(one, site)))
    if (at) return { fault: at.fault, by: 'line', kept: null, moved: [] }
    const lines = linesOf(statement)
    this.#moves.note(service, release, lines)
    const found =
      statement.function === null || release === ''
        ? { fault: this.#likest(clusters, site, statement.function === null ? 1.5 : 0), moved: NOTHING }
        : this.#matchAnew(clusters, site, place, nameSite)
    const file = fileKey(service, statement.type, statement.file)
    const nameless = statement.function === null ? undefined : this.#namelessAt(file, site)
    const fault = found.fault ?? nameless?.fault ?? nameNew()
    this.#clusterOf(place, fault, file).sites.push(site)
    const moved = [...found.moved]
    // A trace without its function told the line first: now it is known which function's that is.
    if (nameless && nameless.fault !== fault && !this.#held.has(nameless.fault)) {
      moved.push({ service, release, place: nameless.place, position: site.position, file: site.file, from: nameless.fault, to: fault })
      this.#move(nameless, [nameless.site], fault, file)
    }
    return {
      fault,
      by: found.fault === null && !nameless ? 'new' : found.fault === null ? 'line' : 'followed',
      kept: { ...site, place, fault, sources: [...site.sources], templates: [...site.templates].slice(0, 3), lines },
      moved,
    }
  }

  /** The fault whose statement a site most probably is, by itself; null where nothing speaks enough for any. */
  #likest(clusters: readonly FaultCluster[], site: Site, atLeast: number): string | null {
    const best = clusters
      // Another line of the same release is another statement.
      .filter((cluster) => site.release === '' || !cluster.sites.some((one) => one.release === site.release))
      .map((cluster) => ({ cluster, score: likeness(cluster, site, this.#moves) }))
      .sort((a, b) => b.score - a.score)[0]
    return best !== undefined && best.score > atLeast ? best.cluster.fault : null
  }

  /**
   * The fault of a new site of a function, and which of the release's other sites in it go elsewhere: all of them matched in their order
   * with the statements known from other releases.
   */
  #matchAnew(
    clusters: readonly FaultCluster[],
    site: Site,
    place: string,
    nameSite: (site: Site, place: string) => string,
  ): { fault: string | null; moved: MovedSite[] } {
    const { release } = site
    const isHere = (one: Site) => one.release === release
    const free = clusters.filter((cluster) => !this.#held.has(cluster.fault) || !cluster.sites.some(isHere))
    const known = free
      .map((cluster) => ({ cluster, sites: cluster.sites.filter((one) => !isHere(one)) }))
      .filter(({ sites }) => sites.length > 0)
      .sort((a, b) => this.#moves.moved(a.sites.at(-1), release) - this.#moves.moved(b.sites.at(-1), release))
    const here = free.flatMap((cluster) => cluster.sites.filter(isHere).map((one) => ({ cluster, site: one })))
    const sites = [...here, { cluster: null, site }].sort((a, b) => a.site.position - b.site.position)
    const faultBySite = new Map(
      align(known, sites, (cluster, one) => likeness(cluster, one.site, this.#moves)).map(([{ cluster }, one]) => [
        one.site,
        cluster.fault,
      ]),
    )
    const moved: MovedSite[] = []
    for (const { cluster, site: one } of here) {
      const isOwn = !known.some((entry) => entry.cluster === cluster)
      const to = faultBySite.get(one) ?? (isOwn ? cluster.fault : nameSite(one, place))
      if (to !== cluster.fault)
        moved.push({ service: one.service, release, place, position: one.position, file: one.file, from: cluster.fault, to })
    }
    for (const { from, to, position, file } of moved) {
      const cluster = clusters.find((one) => one.fault === from)
      const taken = cluster?.sites.filter((one) => isHere(one) && one.position === position && one.file === file) ?? []
      if (cluster) this.#move({ cluster, place }, taken, to, fileKey(site.service, typeIn(place), file))
    }
    return { fault: faultBySite.get(site) ?? null, moved }
  }

  /** A site that is this line, told by a trace that did not name its function. */
  #namelessAt(file: string, site: Site): { fault: string; place: string; cluster: FaultCluster; site: Site } | undefined {
    for (const cluster of this.#files.get(file) ?? []) {
      const same = cluster.sites.find((one) => one.function === null && isSame(one, site))
      if (same) return { fault: cluster.fault, place: cluster.place, cluster, site: same }
    }
    return undefined
  }

  #move({ cluster, place }: { cluster: FaultCluster; place: string }, sites: readonly Site[], to: string, file: string): void {
    cluster.sites = cluster.sites.filter((site) => !sites.includes(site))
    this.#clusterOf(place, to, file).sites.push(...sites)
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
    const cluster: FaultCluster = { fault, place, sites: [] }
    clusters.push(cluster)
    getOr(this.#files, file, () => []).push(cluster)
    return cluster
  }
}

/** Whether two sites are one line of one release. */
const isSame = (a: Site, b: Site): boolean => a.release === b.release && a.position === b.position && a.file === b.file
const fileKey = (service: string, type: string, file: string): string => `${service}\n${type}\n${file}`
/** A place begins with its service and type. */
const typeIn = (place: string): string => place.split('\n')[1] ?? ''
