import { restoreException, type StoredException } from '#subjects/telemetry/index'
import type { MovedSite } from '@dystracer/core/traces/statement-index'
import type { Db } from '#platform/db/open'
import type { FaultFinder } from './fault-finder.js'
import {
  type StoredTrace,
  GROUP_OCCURRENCE,
  GROUP_TRACES_OF,
  GROUP_GROUPS_OF,
  GROUP_RELEASES_OF,
  GROUP_SAY,
  GROUP_REGROUP,
  GROUP_RETRACE,
  GROUP_CHANGE,
} from './group-keeper.queries.js'
import { prepareMerge, prepareUnmerge } from './merging.js'
import { prepareMove } from './moving.js'
import type { Place } from '#subjects/git/index'

/**
 * Changes which group occurrences belong to, after they came: what people say (merged, taken out, taken back) and what more is known of the
 * code (source maps, tracked files, whose code it is). Each
 * method wants a transaction around it; afterwards what was cached of traces is void.
 */
export class GroupKeeper {
  readonly #finder: FaultFinder
  readonly #digestOf: (text: string) => string
  readonly #merge
  readonly #unmerge
  readonly #move
  readonly #statements

  constructor(db: Db, finder: FaultFinder, digestOf: (text: string) => string) {
    this.#finder = finder
    this.#digestOf = digestOf
    this.#merge = prepareMerge(db)
    this.#unmerge = prepareUnmerge(db)
    this.#move = prepareMove(db)
    this.#statements = prepareGroupQueries(db)
  }

  /**
   * Makes one group of two because people say so, for what is there and what will come; `unmerge` takes it back. True when there was
   * something to merge.
   */
  merge(from: string, into: string): boolean {
    if (from === into || !this.#merge.has(from, into)) return false
    this.#unmerge.save(from, into)
    this.#mergeAll(from, into)
    this.#say(into)
    return true
  }

  /**
   * Takes a merge back: the group is there again, with what was its own and what came of it since. False when there is no such merge, or
   * the other has gone into a third.
   */
  unmerge(from: string): boolean {
    const saved = this.#unmerge.saved(from)
    if (!saved || this.#unmerge.saved(saved.into)) return false
    const { into, group } = saved
    this.#unmerge.begin(from, into, group)
    this.#finder.reload()
    for (const trace of this.#read(into, null)) {
      const { fingerprint, moved } = this.#finder.find(this.#finder.read(trace), trace, () => into)
      if (fingerprint === from) this.#moveTo(into, from, { release: trace.release, digests: [trace.digest] })
      this.follow(moved)
    }
    this.#statements.regroup.run({ fingerprint: from, grouping: group.grouping })
    this.#statements.retrace.run({ fingerprint: from, digest: group.traceDigest })
    this.#unmerge.finish(from, into, group)
    for (const fingerprint of [from, into]) this.#say(fingerprint)
    return true
  }

  /**
   * Says of one occurrence which group it belongs to (null for one of its own): what fails at its line goes there from now on; what is
   * there of it goes along when `includesEarlier` is asked for. Gives the
   * group, or null when there is nothing to move or to tell apart.
   */
  moveLine({ occurrenceId, to, includesEarlier }: { occurrenceId: number; to: string | null; includesEarlier: boolean }): string | null {
    const row = this.#statements.occurrence.get({ occurrenceId })
    if (!row || row.fingerprint === to) return null
    const one = plain(row)
    const from = one.fingerprint
    const position = this.#finder.positionOf(one)
    const digests = includesEarlier
      ? this.#read(from, one.release)
          .filter((other) => this.#finder.positionOf(other) === position)
          .map((other) => other.digest)
      : []
    const { count, hasOthers } = this.#move.gather(from, includesEarlier ? { release: one.release, digests } : { occurrenceId })
    if (count === 0) return null
    if (!hasOthers) return to === null ? null : this.merge(from, to) ? to : null
    const fingerprint = to ?? this.#digestOf(`${from}\nsplit\n${one.release}\n${position}\n${occurrenceId}`)
    this.#move.go(from, fingerprint, this.#digestOf)
    this.#finder.split(from, { release: one.release, position }, fingerprint)
    for (const changed of [from, fingerprint]) this.#say(changed)
    return fingerprint
  }

  /**
   * Finds anew where everything of a service failed, in one release or in all, after more became known of its code. Groups that people had
   * a say in stay. Gives how many groups went into others and how many are new.
   */
  refind({ service, release }: { service: string; release: string | null }): { merged: number; made: number } {
    this.#finder.forgetCode()
    const done = { merged: 0, made: 0 }
    for (const one of release === null ? this.#statements.releasesOf.all(service).map((row) => row.release) : [release]) {
      const { merged, made } = this.#refindRelease({ service, release: one })
      done.merged += merged
      done.made += made
    }
    return done
  }

  #refindRelease(place: Place): { merged: number; made: number } {
    const done = { merged: 0, made: 0 }
    const groups = this.#statements.groupsOf.all(place).map((row) => row.fingerprint)
    this.#finder.forgetSites(place, groups)
    const claimed = new Set<string>()
    const later: MovedSite[] = []
    for (const from of groups) {
      const targets = new Map<string, { digests: string[]; grouping: string }>()
      for (const trace of this.#read(from, place.release)) {
        const found = this.#finder.find(this.#finder.read(trace), trace, (newName) => (claimed.has(from) ? newName() : from))
        claimed.add(found.fingerprint)
        later.push(...found.moved)
        const target = targets.get(found.fingerprint) ?? { digests: [], grouping: JSON.stringify(found.grouping) }
        target.digests.push(trace.digest)
        targets.set(found.fingerprint, target)
      }
      for (const [fingerprint, { digests, grouping }] of targets) {
        if (fingerprint !== from) {
          const isNew = !this.#merge.has(from, fingerprint)
          const went = this.#moveTo(from, fingerprint, { release: place.release, digests })
          if (isNew && went === 'moved') done.made++
          if (went === 'merged') done.merged++
        }
        this.#statements.regroup.run({ fingerprint, grouping })
        this.#statements.change.run({ fingerprint })
      }
      this.#statements.change.run({ fingerprint: from })
    }
    this.follow(later)
    return done
  }

  /** Moves what occurred at lines that turned out to be another group's. */
  follow(sites: readonly MovedSite[]): void {
    for (const { from, to, service, release, position } of sites) {
      const traces = this.#read(from, release).filter((trace) => this.#finder.positionOf({ ...trace, service }) === position)
      const [first] = traces
      if (!first) continue
      this.#moveTo(from, to, { release, digests: traces.map((trace) => trace.digest) })
      // The line is known by now, so that this only tells why.
      const { grouping } = this.#finder.find(this.#finder.read(first), { service, release })
      this.#statements.regroup.run({ fingerprint: to, grouping: JSON.stringify(grouping) })
      for (const fingerprint of [from, to]) this.#statements.change.run({ fingerprint })
    }
  }

  /** Moves a part of a group; all of it becomes one with the other. */
  #moveTo(from: string, to: string, part: { release: string; digests: readonly string[] }): 'moved' | 'merged' {
    const { hasOthers } = this.#move.gather(from, part)
    if (!hasOthers && this.#merge.has(from, to)) {
      this.#mergeAll(from, to)
      return 'merged'
    }
    this.#move.go(from, to, this.#digestOf)
    return 'moved'
  }

  #mergeAll(from: string, into: string): void {
    this.#merge.run(from, into)
    this.#finder.merge(from, into)
    this.#statements.change.run({ fingerprint: into })
  }

  /** The different traces of a group, in one release or in all, as they first came. */
  #read(fingerprint: string, release: string | null): StoredTrace[] {
    return this.#statements.tracesOf.all({ fingerprint, release }).map(plain)
  }

  #say(fingerprint: string): void {
    this.#finder.hold(fingerprint)
    this.#statements.say.run({ fingerprint })
    this.#statements.change.run({ fingerprint })
  }
}

function plain(row: StoredException & StoredTrace): StoredTrace {
  return { ...row, ...restoreException(row) }
}

/** What changing the groups reads and writes: by occurrence, by fingerprint, and by the service of a place. */
function prepareGroupQueries(db: Db) {
  return {
    occurrence: db.prepare<{ occurrenceId: number }, StoredException & StoredTrace>(GROUP_OCCURRENCE),
    tracesOf: db.prepare<{ fingerprint: string; release: string | null }, StoredException & StoredTrace>(GROUP_TRACES_OF),
    groupsOf: db.prepare<Place, { fingerprint: string }>(GROUP_GROUPS_OF),
    releasesOf: db.prepare<[string], { release: string }>(GROUP_RELEASES_OF),
    say: db.prepare(GROUP_SAY),
    regroup: db.prepare(GROUP_REGROUP),
    retrace: db.prepare(GROUP_RETRACE),
    change: db.prepare(GROUP_CHANGE),
  }
}
