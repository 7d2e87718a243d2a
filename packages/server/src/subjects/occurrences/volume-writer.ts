import { LRUCache } from 'lru-cache'
import { hash } from 'node:crypto'
import type { Grouping } from '@dystracer/core/traces/grouping'
import type { MovedSite } from '@dystracer/core/traces/statement-index'
import { scrubAttributes, scrubText, type OwnScrub } from '@dystracer/core/traces/scrub'
import type { Db } from '#platform/db/open'
import { FaultFinder } from './fault-finder.js'
import { GroupKeeper } from './group-keeper.js'
import { prepareVolumeWrites } from './volume-writer.queries.js'
import type { ReleaseCode } from '#subjects/git/index'
import {
  type Attributes,
  cutHead,
  type OtlpRecord,
  placeOf,
  type SenderPlace,
  text,
  TrafficValues,
  TrailKeeper,
} from '#subjects/telemetry/index'

/** Records that were counted and not kept are remembered by their hash, so that a retry is not counted again. */
const HASHES_MAX = 200_000
const STACKTRACE_MAX = 256 * 1024
const CLOCK_TOLERANCE_MS = 5 * 60_000
/** So many traces are remembered, and so much of their text. */
const TRACES_MAX = 4096
const REMEMBERED_CHARS_MAX = 16 << 20
/** Enough of each kind of text; more would only fill the disk. */
const MESSAGE_MAX = 4000

interface ReadTrace {
  digest: string
  fingerprint: string
  grouping: Grouping
}
interface GroupDelta {
  service: string
  trace: ReadTrace
  firstAtMs: number
  lastAtMs: number
  count: number
  severityNumber: number
  leftOut: number
}

/** The attributes by which OpenTelemetry names a person. */
const PERSON_ATTRIBUTES = ['user.id', 'enduser.id'] as const

export interface TakeResult {
  stored: number
  refused: number
  why: string
}

/**
 * The only writer of the volume database. Traces are read once by content (a digest cache), counters are added up in memory and written
 * once per batch. The caller
 * wraps calls in one transaction: that is the group commit.
 */
export class VolumeWriter {
  readonly #insert
  /** By service, release and type, then by the text of the trace, which is too long to be joined to a key for each record. */
  readonly #groupings = new Map<string, Map<string, ReadTrace>>()
  #remembered = { traces: 0, chars: 0 }
  #resources = new WeakMap<Attributes, KnownResource>()
  #groups = new Map<string, GroupDelta>()
  #releases = new Map<
    string,
    { fingerprint: string; release: string; environment: string; firstAtMs: number; lastAtMs: number; count: number }
  >()
  #minutes = new Map<string, { fingerprint: string; minute: number; environment: string; count: number }>()
  #activity = new Map<string, { service: string; minute: number; release: string; environment: string; count: number; lastAtMs: number }>()
  /** The first minute of each person and fault of this batch. */
  #people = new Map<string, number>()
  readonly #traffic = new TrafficValues()
  readonly #trails = new TrailKeeper()
  readonly #scrubValue = (name: string, value: string): string => String(scrubAttributes({ [name]: value }, this.#ownScrub)[name])
  #moved: MovedSite[] = []
  /** Occurrences kept in the minute of arrival, by fault. */
  #keptNow = { minute: 0, byFault: new Map<string, number>() }
  readonly #leftOutHashes = new LRUCache<string, true>({ max: HASHES_MAX })
  /** What this batch put into the two above: a transaction that fails takes it back. */
  #unsettled: { leftOut: string[]; kept: string[] } = { leftOut: [], kept: [] }
  /** Digests of traces and resources used while a sweep is under way. */
  #used: Set<string> | null = null

  readonly #finder: FaultFinder
  readonly #keepPerMinute: number
  readonly #pseudonymOf: (person: string) => string
  readonly #readOwnScrub: () => OwnScrub | undefined
  #ownScrub: OwnScrub | undefined
  /** Changes of groups after the fact; `forget` belongs after each. */
  readonly groups: GroupKeeper

  /** Of one fault `keepPerMinute` occurrences are kept whole in a minute; those beyond are counted exactly and not kept. */
  constructor(
    db: Db,
    {
      code,
      keepPerMinute,
      readOwnScrub,
      pseudonymOf,
    }: {
      code: ReleaseCode
      keepPerMinute: number
      readOwnScrub: () => OwnScrub | undefined
      pseudonymOf: (person: string) => string
    },
  ) {
    this.#keepPerMinute = keepPerMinute
    this.#pseudonymOf = pseudonymOf
    this.#readOwnScrub = readOwnScrub
    this.#ownScrub = readOwnScrub()
    this.#insert = prepareVolumeWrites(db)
    this.#finder = new FaultFinder(db, code, digestOf)
    this.groups = new GroupKeeper(db, this.#finder, digestOf)
  }

  /** Stores the records of one request; counters wait for `flush`. */
  take(records: readonly OtlpRecord[], receivedAtMs: number): TakeResult {
    let stored = 0
    let refused = 0
    for (const record of records) {
      const { place } = this.#resourceOf(record.resource)
      const atMs = clamp(record.atMs ?? receivedAtMs, receivedAtMs)
      if (record.isActivity) {
        this.#countActivity(place, atMs)
        this.#traffic.count(place.service, atMs, record)
        this.#trails.note(place, record, { atMs, receivedAtMs })
        stored++
      } else if (this.#takeException(record, place, atMs, receivedAtMs)) stored++
      else refused++
    }
    return { stored, refused, why: refused > 0 ? `exception.stacktrace is longer than ${STACKTRACE_MAX} characters` : '' }
  }

  /** Writes the counters gathered since the last flush and notes which groups changed. */
  flush(): void {
    for (const [fingerprint, group] of this.#groups) {
      this.#insert.group.run({
        fingerprint,
        service: group.service,
        grouping: JSON.stringify(group.trace.grouping),
        digest: group.trace.digest,
        firstAtMs: group.firstAtMs,
        lastAtMs: group.lastAtMs,
        count: group.count,
        severityNumber: group.severityNumber,
        leftOut: group.leftOut,
      })
      this.#insert.change.run({ fingerprint })
    }
    for (const release of this.#releases.values()) this.#insert.release.run(release)
    for (const minute of this.#minutes.values()) {
      this.#insert.minute.run(minute)
      this.#insert.day.run({ fingerprint: minute.fingerprint, day: Math.floor(minute.minute / 1440), count: minute.count })
    }
    for (const activity of this.#activity.values()) this.#insert.activity.run(activity)
    for (const counted of this.#traffic.drain(this.#scrubValue)) this.#insert.traffic.run(counted)
    for (const [entry, firstMinute] of this.#people) {
      const [fingerprint, person] = entry.split('\n')
      this.#insert.person.run({ fingerprint, person, firstMinute })
    }
    for (const row of this.#trails.drain((words) => scrubText(words, this.#ownScrub))) this.#insert.trail.run(row)
    this.#groups = new Map()
    this.#releases = new Map()
    this.#minutes = new Map()
    this.#activity = new Map()
    this.#people = new Map()
    const moved = this.#moved
    this.#moved = []
    this.groups.follow(moved)
  }

  /** What was taken since the last time is durable now; belongs after each transaction. */
  settle(): void {
    this.#unsettled = { leftOut: [], kept: [] }
    this.#trails.settle()
  }

  /** Forgets what was gathered since `settle`, after a failed transaction: what comes again is taken as if for the first time. */
  discard(): void {
    for (const recordHash of this.#unsettled.leftOut) this.#leftOutHashes.delete(recordHash)
    for (const fingerprint of this.#unsettled.kept)
      this.#keptNow.byFault.set(fingerprint, Math.max(0, (this.#keptNow.byFault.get(fingerprint) ?? 0) - 1))
    this.#trails.discard()
    this.settle()
    this.#groups.clear()
    this.#releases.clear()
    this.#minutes.clear()
    this.#activity.clear()
    this.#traffic.drain(this.#scrubValue)
    this.#people.clear()
    this.#moved = []
    this.#resources = new WeakMap()
    this.#finder.reload()
    this.forget()
  }

  /** Reads traces anew from now on: their groups, or what is known of their code, changed. */
  forget(): void {
    this.#groupings.clear()
  }

  /** Looks anew at maps, tags, tracked files and what people said of the code and of what is to be taken out, for what comes. */
  forgetCode(): void {
    this.#finder.forgetCode()
    this.#ownScrub = this.#readOwnScrub()
    this.#resources = new WeakMap()
    this.forget()
  }

  /** Keeps the source maps of a release, and finds anew where it failed. Gives how many groups went into others. */
  keepMaps({
    files,
    ...place
  }: {
    service: string
    release: string
    files: readonly { file: string; text: string }[]
    receivedAtMs: number
  }): number {
    for (const { file, text: map } of files) this.#finder.keepMap({ ...place, file, text: map })
    return this.groups.refind(place).merged
  }

  /** From now on what is used of traces and resources is noted, and written again where it had gone. */
  noteUse(used: Set<string> | null): void {
    this.#used = used
    this.#groupings.clear()
    this.#resources = new WeakMap()
  }

  #takeException(record: OtlpRecord, place: SenderPlace, atMs: number, receivedAtMs: number): boolean {
    if (text(record.attributes['exception.stacktrace']).length > STACKTRACE_MAX) return false
    const { 'exception.stacktrace': stack, 'exception.message': said, ...others } = record.attributes
    // Who was hit is counted and stored by another name: what lies here holds no personal data.
    const person = this.#pseudonymOf(text(others['user.id']) || text(others['enduser.id']))
    for (const name of PERSON_ATTRIBUTES) if (others[name] !== undefined) others[name] = this.#pseudonymOf(text(others[name]))
    const message = scrubText(text(said) || record.body, this.#ownScrub)
    const { digest: resourceDigest, runtime } = this.#resourceOf(record.resource)
    const trace = this.#readTrace(place, text(stack), { type: text(others['exception.type']), said: text(said), message, runtime })
    // What stands in columns of its own is not stored twice; reading puts it back (trace-content.ts).
    const isMessageKept = said === undefined || (typeof said === 'string' && message.length <= MESSAGE_MAX)
    const given = scrubAttributes(others, this.#ownScrub)
    const attributes = JSON.stringify(isMessageKept ? given : { ...given, 'exception.message': message })
    const recordHash = digestOf(
      `${resourceDigest}\n${record.atNanos}\n${record.traceId ?? ''}\n${trace.digest}\n${attributes}\n${message}\n` +
        `${record.body}\n${person}`,
    )
    if (!this.#mayKeep(trace.fingerprint, receivedAtMs)) {
      if (this.#leftOutHashes.has(recordHash) || this.#insert.isKept.get({ recordHash })) return true
      this.#leftOutHashes.set(recordHash, true)
      this.#unsettled.leftOut.push(recordHash)
      this.#count(trace, place, record, { atMs, person, isLeftOut: true })
      return true
    }
    this.#used?.add(trace.digest).add(resourceDigest)
    const { changes } = this.#insert.occurrence.run({
      fingerprint: trace.fingerprint,
      atMs,
      receivedAtMs,
      release: place.release,
      environment: place.environment,
      severityNumber: record.severityNumber,
      message: message.slice(0, MESSAGE_MAX),
      traceDigest: trace.digest,
      resourceDigest,
      attributes,
      traceId: record.traceId,
      recordHash,
    })
    if (changes > 0) {
      this.#keptNow.byFault.set(trace.fingerprint, (this.#keptNow.byFault.get(trace.fingerprint) ?? 0) + 1)
      this.#unsettled.kept.push(trace.fingerprint)
      const name = [text(others['exception.type']), message].filter(Boolean).join(': ')
      this.#trails.hit(place, record, { name, atMs, receivedAtMs })
      this.#count(trace, place, record, { atMs, person, isLeftOut: false })
    }
    return true
  }

  /** Whether this minute has room for one more whole occurrence of the fault. */
  #mayKeep(fingerprint: string, receivedAtMs: number): boolean {
    const minute = Math.floor(receivedAtMs / 60_000)
    if (this.#keptNow.minute !== minute) this.#keptNow = { minute, byFault: new Map() }
    return (this.#keptNow.byFault.get(fingerprint) ?? 0) < this.#keepPerMinute
  }

  #count(
    trace: ReadTrace,
    place: SenderPlace,
    record: OtlpRecord,
    { atMs, person, isLeftOut }: { atMs: number; person: string; isLeftOut: boolean },
  ): void {
    const { fingerprint } = trace
    const group = this.#groups.get(fingerprint) ?? {
      service: place.service,
      trace,
      firstAtMs: atMs,
      lastAtMs: atMs,
      count: 0,
      severityNumber: 0,
      leftOut: 0,
    }
    widen(group, atMs)
    group.severityNumber = Math.max(group.severityNumber, record.severityNumber)
    if (isLeftOut) group.leftOut++
    this.#groups.set(fingerprint, group)
    // Late and undated occurrences never tell that a release still has the fault (docs/rules.md#came-back): they count for no release.
    const isTimely = record.atMs !== null && record.atMs === atMs
    const name = isTimely ? place.release : ''
    const releaseKey = `${fingerprint}\n${name}\n${place.environment}`
    const release = this.#releases.get(releaseKey) ?? {
      fingerprint,
      release: name,
      environment: place.environment,
      firstAtMs: atMs,
      lastAtMs: atMs,
      count: 0,
    }
    widen(release, atMs)
    this.#releases.set(releaseKey, release)
    const minute = Math.floor(atMs / 60_000)
    const minuteKey = `${fingerprint}\n${minute}\n${place.environment}`
    const perMinute = this.#minutes.get(minuteKey) ?? { fingerprint, minute, environment: place.environment, count: 0 }
    perMinute.count++
    this.#minutes.set(minuteKey, perMinute)
    if (person) {
      const hit = `${fingerprint}\n${digestOf(person)}`
      this.#people.set(hit, Math.min(this.#people.get(hit) ?? minute, minute))
    }
  }

  #countActivity(place: SenderPlace, atMs: number): void {
    const minute = Math.floor(atMs / 60_000)
    const key = `${place.service}\n${minute}\n${place.release}\n${place.environment}`
    const activity = this.#activity.get(key) ?? { ...place, minute, count: 0, lastAtMs: atMs }
    activity.count++
    activity.lastAtMs = Math.max(activity.lastAtMs, atMs)
    this.#activity.set(key, activity)
  }

  /**
   * The trace by content and release, read once, with the group that it belongs to. What was received is looked up as it is; only a trace
   * that is new is scrubbed, so that personal data is no
   * longer kept than the cache, which nobody but this thread sees.
   */
  #readTrace(
    place: SenderPlace,
    received: string,
    { type, said, message, runtime }: { type: string; said: string; message: string; runtime: string },
  ): ReadTrace {
    const { text: content, isHeadCut } = cutHead(received, type, said)
    const sender = `${place.service}\n${place.release}\n${type}`
    const remembered = this.#groupings.get(sender)
    // Where a trace has frames they alone say where it failed: another message changes nothing.
    const known = remembered?.get(content) ?? remembered?.get(`${content}\n\n${message}`)
    if (known) return known
    const plain = { type: scrubText(type, this.#ownScrub), content: scrubText(content, this.#ownScrub) }
    const digest = digestOf(`${plain.type}\n${plain.content}`)
    this.#insert.trace.run({ digest, stacktrace: plain.content, isHeadCut: Number(isHeadCut) })
    const stacktrace = isHeadCut ? `${plain.type}: ${message}${plain.content}` : plain.content
    const trace = this.#finder.read({ stacktrace, type: plain.type, message, runtime, ...place })
    const { fingerprint, grouping, moved } = this.#finder.find(trace, place)
    if (moved.length > 0) {
      // What was read of those lines is another group's now; what is stored follows after the counters are written.
      this.#moved.push(...moved)
      this.forget()
    }
    const read = { digest, fingerprint, grouping }
    this.#remember(sender, grouping.reason.basis === 'message' ? `${content}\n\n${message}` : content, read)
    return read
  }

  #remember(sender: string, content: string, read: ReadTrace): void {
    this.#remembered.traces++
    this.#remembered.chars += content.length
    if (this.#remembered.traces > TRACES_MAX || this.#remembered.chars > REMEMBERED_CHARS_MAX) {
      this.#groupings.clear()
      this.#remembered = { traces: 1, chars: content.length }
    }
    const bySender = this.#groupings.get(sender) ?? new Map<string, ReadTrace>()
    this.#groupings.set(sender, bySender.set(content, read))
  }

  /** What a resource says of place and runtime, and its digest; the records of one request share the object. */
  #resourceOf(resource: Attributes): KnownResource {
    const known = this.#resources.get(resource)
    if (known) return known
    const attributes = JSON.stringify(scrubAttributes(resource, this.#ownScrub))
    const made = {
      place: placeOf(resource),
      runtime: text(resource['process.runtime.name']) || text(resource['telemetry.sdk.language']),
      digest: digestOf(attributes),
    }
    this.#insert.resource.run({ digest: made.digest, attributes })
    this.#resources.set(resource, made)
    return made
  }
}

interface KnownResource {
  place: SenderPlace
  runtime: string
  digest: string
}

/** Event time held to within five minutes of arrival (docs/rules.md#came-back). */
function clamp(atMs: number, receivedAtMs: number): number {
  return Math.min(Math.max(atMs, receivedAtMs - CLOCK_TOLERANCE_MS), receivedAtMs + CLOCK_TOLERANCE_MS)
}

function widen(span: { firstAtMs: number; lastAtMs: number; count: number }, atMs: number): void {
  span.firstAtMs = Math.min(span.firstAtMs, atMs)
  span.lastAtMs = Math.max(span.lastAtMs, atMs)
  span.count++
}

function digestOf(content: string): string {
  return hash('sha1', content, 'base64url')
}
