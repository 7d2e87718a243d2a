import { gunzipSync, gzipSync } from 'node:zlib'
import { groupingOf, type Grouping } from '@dystracer/core/traces/grouping'
import { readTrace } from '@dystracer/core/traces/read-trace'
import { failedStatement } from '@dystracer/core/traces/statement'
import { positionOf } from '@dystracer/core/traces/statement-sites'
import { StatementIndex, type KeptSite } from '@dystracer/core/traces/statement-index'
import type { Trace } from '@dystracer/core/traces/trace'
import { builtFileName, mapTrace, parseSourceMap } from '../adapters/source-maps.js'
import type { Db } from '../db/open.js'

/** So many source maps stay parsed; one takes some megabytes. */
const MAPS_MAX = 16

export interface FoundGroup {
  fingerprint: string
  grouping: Grouping
}

/** Which group an exception belongs to: its trace led back to the sources where a map is known, then held against the statements that failed before. What it learns is kept in the same transaction. */
export class FaultFinder {
  readonly #db: Db
  readonly #digestOf: (text: string) => string
  readonly #statements
  #index = new StatementIndex()
  #maps = new Map<string, ReturnType<typeof parseSourceMap> | null>()
  /** Services and releases that any map was uploaded for. */
  #mapped = new Set<string>()

  constructor(db: Db, digestOf: (text: string) => string) {
    this.#db = db
    this.#digestOf = digestOf
    this.#statements = {
      sites: db.prepare<[], { fingerprint: string; site: string }>('SELECT fingerprint, site FROM fault_site ORDER BY place, release, position'),
      keepSite: db.prepare(
        'INSERT OR IGNORE INTO fault_site (place, release, position, file, fingerprint, site) VALUES (@place, @release, @position, @file, @fingerprint, @site)',
      ),
      isTaken: db.prepare<{ fingerprint: string }, { taken: number }>(
        'SELECT 1 AS taken FROM fault_group WHERE fingerprint = @fingerprint UNION SELECT 1 FROM fault_site WHERE fingerprint = @fingerprint UNION SELECT 1 FROM group_alias WHERE fingerprint = @fingerprint LIMIT 1',
      ),
      maps: db.prepare<[], { service: string; release: string }>('SELECT DISTINCT service, release FROM source_map'),
      map: db.prepare<[string, string, string], { map: Buffer }>('SELECT map FROM source_map WHERE service = ? AND release = ? AND file = ?'),
      keepMap: db.prepare(
        'INSERT OR REPLACE INTO source_map (service, release, file, map, received_at_ms) VALUES (@service, @release, @file, @map, @receivedAtMs)',
      ),
    }
    this.reload()
  }

  /** Begins anew from what is kept, after a transaction that failed. */
  reload(): void {
    this.#index = new StatementIndex()
    for (const { fingerprint, site } of this.#statements.sites.all()) this.#index.load({ ...(JSON.parse(site) as KeptSite), fault: fingerprint })
    this.#mapped = new Set(this.#statements.maps.all().map((row) => `${row.service}\n${row.release}`))
    this.#maps.clear()
  }

  /** Reads a trace; its frames are led back to the sources where a map of that release is known. */
  read(stacktrace: string, hints: { type?: string; message?: string; runtime?: string }, place: { service: string; release: string }): Trace {
    const trace = readTrace(stacktrace, hints)
    return this.#mapped.has(`${place.service}\n${place.release}`) ? mapTrace(trace, (file) => this.#mapOf(place, file)) : trace
  }

  find(trace: Trace, { service, release }: { service: string; release: string }): FoundGroup {
    const statement = failedStatement(trace)
    const grouping = groupingOf(statement, trace)
    const nameNew = () => {
      const plain = this.#digestOf(`${service}\n${grouping.key}`)
      // The first statement of a place bears its plain name; further ones are told apart by where they were first met.
      return this.#isTaken(plain)
        ? this.#digestOf(`${service}\n${grouping.key}\n${release}\n${statement.frame?.line ?? ''}:${statement.frame?.column ?? ''}`)
        : plain
    }
    const { fault, kept, by } = this.#index.assign({ service, release, statement }, nameNew)
    if (kept) this.#keep(kept)
    return { fingerprint: fault, grouping: { ...grouping, reason: { ...grouping.reason, by } } }
  }

  /** Where a trace that is stored failed, as a number that tells lines apart. */
  positionOf({
    service,
    release,
    stacktrace,
    type,
    message,
  }: {
    service: string
    release: string
    stacktrace: string
    type: string
    message: string
  }): number {
    return positionOf(failedStatement(this.read(stacktrace, { ...(type && { type }), message }, { service, release })))
  }

  /** The group of a trace of one that is there already: its own, unless the place where it failed is another's. */
  refind(trace: Trace, { service, release }: { service: string; release: string }, own: string): FoundGroup {
    const statement = failedStatement(trace)
    const { fault, kept, by } = this.#index.assign({ service, release, statement }, () => own)
    if (kept) this.#keep(kept)
    return { fingerprint: fault, grouping: { ...groupingOf(statement, trace), reason: { ...groupingOf(statement, trace).reason, by } } }
  }

  /** Makes one group of two for all that comes; the caller moves what is there. */
  merge(from: string, into: string): void {
    this.#index.merge(from, into)
    this.#db.prepare('UPDATE OR REPLACE fault_site SET fingerprint = ? WHERE fingerprint = ?').run(into, from)
  }

  split(from: string, at: { release: string; position: number }, fingerprint: string): void {
    this.#index.split(from, at, fingerprint)
    this.#db
      .prepare('UPDATE OR REPLACE fault_site SET fingerprint = ? WHERE fingerprint = ? AND release = ? AND position = ?')
      .run(fingerprint, from, at.release, at.position)
  }

  /** Keeps a source map. Throws where the text is none. */
  keepMap({
    service,
    release,
    file,
    text,
    receivedAtMs,
  }: {
    service: string
    release: string
    file: string
    text: string
    receivedAtMs: number
  }): void {
    parseSourceMap(text)
    this.#statements.keepMap.run({ service, release, file: builtFileName(file), map: gzipSync(text), receivedAtMs })
    this.#mapped.add(`${service}\n${release}`)
    this.#maps.clear()
  }

  #mapOf({ service, release }: { service: string; release: string }, builtFile: string): ReturnType<typeof parseSourceMap> | null {
    const file = builtFileName(builtFile)
    const id = `${service}\n${release}\n${file}`
    if (!this.#maps.has(id)) {
      const row = this.#statements.map.get(service, release, file)
      if (this.#maps.size >= MAPS_MAX) this.#maps.clear()
      this.#maps.set(id, row ? parseSourceMap(gunzipSync(row.map).toString('utf8')) : null)
    }
    return this.#maps.get(id) ?? null
  }

  #isTaken(fingerprint: string): boolean {
    return this.#statements.isTaken.get({ fingerprint }) !== undefined
  }

  #keep(kept: KeptSite): void {
    this.#statements.keepSite.run({
      place: kept.place,
      release: kept.release,
      position: kept.position,
      file: kept.file,
      fingerprint: kept.fault,
      site: JSON.stringify(kept),
    })
  }
}
