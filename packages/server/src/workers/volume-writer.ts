import { hash } from 'node:crypto'
import { groupTrace, type Grouping } from '@dystracer/core/traces/grouping'
import { readTrace } from '@dystracer/core/traces/read-trace'
import type { Trace } from '@dystracer/core/traces/trace'
import type { Attributes, OtlpRecord } from '../adapters/otlp/read-otlp.js'
import { cutHead } from '../adapters/otlp/trace-content.js'
import type { Db } from '../db/open.js'

const STACKTRACE_MAX = 256 * 1024
const CLOCK_TOLERANCE_MS = 5 * 60_000
const DIGESTS_MAX = 4096
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
}

export interface TakeResult {
  stored: number
  refused: number
  why: string
}

/**
 * The only writer of the volume database. Traces are read once by content (a digest cache), counters are added up in memory and written once per batch. The caller
 * wraps calls in one transaction: that is the group commit.
 */
export class VolumeWriter {
  readonly #insert
  readonly #traces = new Map<string, Trace>()
  readonly #groupings = new Map<string, ReadTrace>()
  readonly #resources = new Map<string, string>()
  #groups = new Map<string, GroupDelta>()
  #releases = new Map<string, { fingerprint: string; release: string; environment: string; firstAtMs: number; lastAtMs: number; count: number }>()
  #minutes = new Map<string, { fingerprint: string; minute: number; environment: string; count: number }>()
  #activity = new Map<string, { service: string; minute: number; release: string; environment: string; count: number; lastAtMs: number }>()
  #people = new Set<string>()

  constructor(db: Db) {
    this.#insert = prepareVolumeWrites(db)
  }

  /** Stores the records of one request; counters wait for `flush`. */
  take(records: readonly OtlpRecord[], receivedAtMs: number): TakeResult {
    let stored = 0
    let refused = 0
    for (const record of records) {
      const place = placeOf(record.resource)
      const atMs = clamp(record.atMs ?? receivedAtMs, receivedAtMs)
      if (record.isActivity) {
        this.#countActivity(place, atMs)
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
      })
      this.#insert.change.run({ fingerprint })
    }
    for (const release of this.#releases.values()) this.#insert.release.run(release)
    for (const minute of this.#minutes.values()) this.#insert.minute.run(minute)
    for (const activity of this.#activity.values()) this.#insert.activity.run(activity)
    for (const entry of this.#people) {
      const [fingerprint, person] = entry.split('\n')
      this.#insert.person.run({ fingerprint, person })
    }
    this.#groups = new Map()
    this.#releases = new Map()
    this.#minutes = new Map()
    this.#activity = new Map()
    this.#people = new Set()
  }

  /** Forgets what was gathered, after a failed transaction. */
  discard(): void {
    this.#groups.clear()
    this.#releases.clear()
    this.#minutes.clear()
    this.#activity.clear()
    this.#people.clear()
    this.#traces.clear()
    this.#groupings.clear()
    this.#resources.clear()
  }

  #takeException(record: OtlpRecord, place: Place, atMs: number, receivedAtMs: number): boolean {
    const stacktrace = text(record.attributes['exception.stacktrace'])
    if (stacktrace.length > STACKTRACE_MAX) return false
    const type = text(record.attributes['exception.type'])
    const message = text(record.attributes['exception.message']) || record.body
    const trace = this.#readTrace(place.service, stacktrace, type, message)
    const resourceDigest = this.#resource(record.resource)
    // What stands in columns of its own is not stored twice; reading puts it back (trace-content.ts).
    const isMessageKept = message.length <= MESSAGE_MAX && message === record.attributes['exception.message']
    const attributes = JSON.stringify({
      ...record.attributes,
      'exception.stacktrace': undefined,
      ...(isMessageKept && { 'exception.message': undefined }),
    })
    const recordHash = digestOf(
      `${resourceDigest}\n${record.atMs ?? ''}\n${record.traceId ?? ''}\n${trace.digest}\n${attributes}\n${message}\n${record.body}`,
    )
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
    if (changes > 0) this.#count(trace, place, record, atMs)
    return true
  }

  #count(trace: ReadTrace, place: Place, record: OtlpRecord, atMs: number): void {
    const { fingerprint } = trace
    const group = this.#groups.get(fingerprint) ?? { service: place.service, trace, firstAtMs: atMs, lastAtMs: atMs, count: 0, severityNumber: 0 }
    widen(group, atMs)
    group.severityNumber = Math.max(group.severityNumber, record.severityNumber)
    this.#groups.set(fingerprint, group)
    // Late and undated occurrences never tell that a release still has the fault (rule 7): they count for no release.
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
    const person = text(record.attributes['user.id']) || text(record.attributes['enduser.id'])
    if (person) this.#people.add(`${fingerprint}\n${person.slice(0, 200).replaceAll('\n', ' ')}`)
  }

  #countActivity(place: Place, atMs: number): void {
    const minute = Math.floor(atMs / 60_000)
    const key = `${place.service}\n${minute}\n${place.release}\n${place.environment}`
    const activity = this.#activity.get(key) ?? { ...place, minute, count: 0, lastAtMs: atMs }
    activity.count++
    activity.lastAtMs = Math.max(activity.lastAtMs, atMs)
    this.#activity.set(key, activity)
  }

  /** The trace by content (parsed once), and with this record's message the group that it belongs to. */
  #readTrace(service: string, stacktrace: string, type: string, message: string): ReadTrace {
    const { text: content, isHeadCut } = cutHead(stacktrace, type, message)
    const digest = digestOf(`${type}\n${content}`)
    const groupKey = `${service}\n${digest}\n${message}`
    const known = this.#groupings.get(groupKey)
    if (known) return known
    let trace = this.#traces.get(digest)
    if (!trace) {
      trace = readTrace(stacktrace, { ...(type && { type }), ...(message && { message }) })
      keep(this.#traces, digest, trace)
      this.#insert.trace.run({ digest, stacktrace: content, isHeadCut: Number(isHeadCut) })
    }
    const grouping = groupTrace(message ? { ...trace, exception: { ...trace.exception, message } } : trace)
    const read = { digest, fingerprint: digestOf(`${service}\n${grouping.key}`), grouping }
    keep(this.#groupings, groupKey, read)
    return read
  }

  #resource(attributes: Attributes): string {
    const json = JSON.stringify(attributes)
    const known = this.#resources.get(json)
    if (known) return known
    const digest = digestOf(json)
    keep(this.#resources, json, digest)
    this.#insert.resource.run({ digest, attributes: json })
    return digest
  }
}

interface Place {
  service: string
  release: string
  environment: string
}

function placeOf(resource: Attributes): Place {
  const service = text(resource['service.name']).slice(0, 200) || 'unknown'
  const version = text(resource['service.version']).slice(0, 100)
  return {
    service,
    release: version.startsWith(`${service}@`) ? version.slice(service.length + 1) : version.replace(/^v(?=\d)/, ''),
    environment: (text(resource['deployment.environment.name']) || text(resource['deployment.environment'])).slice(0, 100) || 'unknown',
  }
}

/** Event time held to within five minutes of arrival (rule 7). */
function clamp(atMs: number, receivedAtMs: number): number {
  return Math.min(Math.max(atMs, receivedAtMs - CLOCK_TOLERANCE_MS), receivedAtMs + CLOCK_TOLERANCE_MS)
}

/** Keeps a value in a cache of bounded size; a full one begins anew. */
function keep<Value>(cache: Map<string, Value>, key: string, value: Value): void {
  if (cache.size >= DIGESTS_MAX) cache.clear()
  cache.set(key, value)
}

function widen(span: { firstAtMs: number; lastAtMs: number; count: number }, atMs: number): void {
  span.firstAtMs = Math.min(span.firstAtMs, atMs)
  span.lastAtMs = Math.max(span.lastAtMs, atMs)
  span.count++
}

function text(value: unknown): string {
  return typeof value === 'string' ? value : value === undefined || value === null ? '' : String(value)
}

function digestOf(content: string): string {
  return hash('sha1', content, 'base64url')
}

function prepareVolumeWrites(db: Db) {
  return {
    trace: db.prepare('INSERT OR IGNORE INTO trace (digest, stacktrace, is_head_cut) VALUES (@digest, @stacktrace, @isHeadCut)'),
    resource: db.prepare('INSERT OR IGNORE INTO resource (digest, attributes) VALUES (@digest, @attributes)'),
    occurrence: db.prepare(`INSERT OR IGNORE INTO occurrence
      (fingerprint, at_ms, received_at_ms, release, environment, severity_number, message, trace_digest, resource_digest, attributes, trace_id, record_hash)
      VALUES (@fingerprint, @atMs, @receivedAtMs, @release, @environment, @severityNumber, @message, @traceDigest, @resourceDigest, @attributes, @traceId, @recordHash)`),
    group: db.prepare(`INSERT INTO fault_group (fingerprint, service, grouping, trace_digest, first_at_ms, last_at_ms, count, severity_number)
      VALUES (@fingerprint, @service, @grouping, @digest, @firstAtMs, @lastAtMs, @count, @severityNumber)
      ON CONFLICT (fingerprint) DO UPDATE SET first_at_ms = min(first_at_ms, excluded.first_at_ms), last_at_ms = max(last_at_ms, excluded.last_at_ms), count = count + excluded.count,
        severity_number = max(severity_number, excluded.severity_number)`),
    release:
      db.prepare(`INSERT INTO fault_release (fingerprint, release, environment, first_at_ms, last_at_ms, count) VALUES (@fingerprint, @release, @environment, @firstAtMs, @lastAtMs, @count)
      ON CONFLICT (fingerprint, release, environment) DO UPDATE SET first_at_ms = min(first_at_ms, excluded.first_at_ms), last_at_ms = max(last_at_ms, excluded.last_at_ms), count = count + excluded.count`),
    minute: db.prepare(`INSERT INTO fault_minute (fingerprint, minute, environment, count) VALUES (@fingerprint, @minute, @environment, @count)
      ON CONFLICT (fingerprint, minute, environment) DO UPDATE SET count = count + excluded.count`),
    activity:
      db.prepare(`INSERT INTO activity_minute (service, minute, release, environment, count, last_at_ms) VALUES (@service, @minute, @release, @environment, @count, @lastAtMs)
      ON CONFLICT (service, minute, release, environment) DO UPDATE SET count = count + excluded.count, last_at_ms = max(last_at_ms, excluded.last_at_ms)`),
    person: db.prepare('INSERT OR IGNORE INTO fault_person (fingerprint, person) VALUES (@fingerprint, @person)'),
    change: db.prepare('INSERT INTO group_change (fingerprint) VALUES (@fingerprint)'),
  }
}
