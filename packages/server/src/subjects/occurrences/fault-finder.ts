import { gzipSync } from 'node:zlib'
import { groupingOf, type Grouping } from '@dystracer/core/traces/grouping'
import { failedStatement } from '@dystracer/core/traces/statement'
import { positionOf } from '@dystracer/core/traces/statement-sites'
import { StatementIndex, type KeptSite, type MovedSite } from '@dystracer/core/traces/statement-index'
import type { Trace } from '@dystracer/core/traces/trace'
import {
  FINDER_SITES,
  FINDER_KEEP_SITE,
  FINDER_FORGET_SITES,
  FINDER_MOVE_SITE,
  FINDER_HELD,
  FINDER_IS_TAKEN,
  FINDER_KEEP_MAP,
  FINDER_MERGE_SITES,
  FINDER_SPLIT_SITE,
} from './fault-finder.queries.js'
import type { Db } from '#platform/db/open'
import { builtFileName, parseSourceMap, type Place, type PlacedTrace, type ReleaseCode } from '#subjects/git/index'

export interface FoundGroup {
  fingerprint: string
  grouping: Grouping
  /** Lines that turned out to be another group's: what occurred at them is to follow. */
  moved: MovedSite[]
}

/**
 * Which group an exception belongs to: its trace read with what is known of the code, then held against the statements that failed before.
 * What it learns is kept in the same transaction.
 */
export class FaultFinder {
  readonly #code: ReleaseCode
  readonly #digestOf: (text: string) => string
  readonly #statements
  #index = new StatementIndex()

  constructor(db: Db, code: ReleaseCode, digestOf: (text: string) => string) {
    this.#code = code
    this.#digestOf = digestOf
    this.#statements = prepareFinderQueries(db)
    this.reload()
  }

  /** Begins anew from what is kept, after a transaction that failed. */
  reload(): void {
    this.#index = new StatementIndex()
    for (const { fingerprint, site } of this.#statements.sites.all())
      this.#index.load({ ...(JSON.parse(site) as KeptSite), fault: fingerprint })
    this.#index.hold(this.#statements.held.all().map((row) => row.fingerprint))
    this.forgetCode()
  }

  /** A group that people had a say in: its sites stay. */
  hold(fingerprint: string): void {
    this.#index.hold([fingerprint])
  }

  /** Looks anew at maps, tags, tracked files and what people said. */
  forgetCode(): void {
    this.#code.forget()
  }

  /** Reads a trace with what is known of its release. */
  read(trace: PlacedTrace): Trace {
    return this.#code.read(trace)
  }

  /** The group of a trace; `name` may give one that is not known another name than the one that it would get. */
  find(trace: Trace, { service, release }: Place, name: (newName: () => string) => string = (newName) => newName()): FoundGroup {
    const statement = failedStatement(trace)
    const grouping = groupingOf(statement, trace)
    const newName = () => {
      const plain = this.#digestOf(`${service}\n${grouping.key}`)
      // The first statement of a place bears its plain name; further ones are told apart by where they were first met.
      return this.#isTaken(plain)
        ? this.#digestOf(`${service}\n${grouping.key}\n${release}\n${statement.frame?.line ?? ''}:${statement.frame?.column ?? ''}`)
        : plain
    }
    const { fault, kept, by, moved } = this.#index.assign(
      { service, release, statement },
      () => name(newName),
      (site, place) => this.#digestOf(`${place}\n${site.release}\n${site.position}`),
    )
    for (const site of moved) this.#statements.moveSite.run(site)
    if (kept) this.#keep(kept)
    return { fingerprint: fault, grouping: { ...grouping, reason: { ...grouping.reason, by } }, moved }
  }

  /** Where a trace that is stored failed, as a number that tells lines apart. */
  positionOf(trace: PlacedTrace): number {
    return positionOf(failedStatement(this.read(trace)))
  }

  /** Forgets where groups failed in one release, to find it anew. */
  forgetSites({ service, release }: Place, fingerprints: readonly string[]): void {
    this.#index.forget({ service, release }, new Set(fingerprints))
    for (const fingerprint of fingerprints) this.#statements.forgetSites.run({ fingerprint, release })
  }

  /** Makes one group of two for all that comes; the caller moves what is there. */
  merge(from: string, into: string): void {
    this.#index.merge(from, into)
    this.#statements.mergeSites.run({ from, into })
  }

  split(from: string, at: { release: string; position: number }, fingerprint: string): void {
    this.#index.split(from, at, fingerprint)
    this.#statements.splitSite.run({ from, to: fingerprint, release: at.release, position: at.position })
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

/** What finding the group of a trace reads and keeps: where statements failed, by place and by fingerprint. */
function prepareFinderQueries(db: Db) {
  return {
    sites: db.prepare<[], { fingerprint: string; site: string }>(FINDER_SITES),
    keepSite: db.prepare(FINDER_KEEP_SITE),
    forgetSites: db.prepare(FINDER_FORGET_SITES),
    moveSite: db.prepare(FINDER_MOVE_SITE),
    held: db.prepare<[], { fingerprint: string }>(FINDER_HELD),
    isTaken: db.prepare<{ fingerprint: string }, { taken: number }>(FINDER_IS_TAKEN),
    keepMap: db.prepare(FINDER_KEEP_MAP),
    mergeSites: db.prepare<{ from: string; into: string }>(FINDER_MERGE_SITES),
    splitSite: db.prepare<{ from: string; to: string; release: string; position: number }>(FINDER_SPLIT_SITE),
  }
}
