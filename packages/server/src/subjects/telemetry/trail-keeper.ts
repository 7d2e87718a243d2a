import { hash } from 'node:crypto'
import type { TrailStep } from '@dystracer/core/faults/trail'
import { LRUCache } from 'lru-cache'
import type { Attributes, OtlpRecord } from './read-otlp.js'
import { text, type SenderPlace } from './sender-place.js'

/** So many traces are remembered until it is known whether one of them failed; the longest untouched goes first. */
const TRACES_MAX = 2000
/** Of a trace so many records are remembered, the newest; and so many are kept once it failed. */
const WAITING_MAX = 60
const KEPT_MAX = 300
/** Enough to recognise a step by. */
const NAME_MAX = 300
const DETAIL_MAX = 200

/** What says most of a step, by the semantic conventions of OpenTelemetry, in the order in which it is told. */
const TELLING = [
  'http.request.method',
  'http.method',
  'http.route',
  'url.path',
  'http.response.status_code',
  'http.status_code',
  'db.system.name',
  'db.operation.name',
  'db.collection.name',
  'rpc.service',
  'rpc.method',
  'messaging.operation.name',
  'messaging.destination.name',
  'error.type',
] as const

/**
 * One span, plain log record or error of a trace in which something failed. By `mark` it is kept once, however often it is sent; what is no
 * span hangs from the span in which it was written.
 */
export interface TrailRow extends TrailStep {
  traceId: string
  receivedAtMs: number
}

interface Trail {
  isHit: boolean
  waiting: TrailRow[]
  kept: number
}

/**
 * What happened around an error. Of every trace the newest spans and log records are remembered for a while; once an error of the trace
 * comes they are kept, with what follows. What never failed costs no disk. Memory: at most 2,000 traces of 60 records of a kilobyte, some
 * 20 MB as programs are; about a microsecond for each record that bears a trace.
 */
export class TrailKeeper {
  readonly #trails = new LRUCache<string, Trail>({ max: TRACES_MAX })
  /** What this batch writes, and which traces it found failing: a transaction that fails takes both back. */
  #written: { trail: Trail; row: TrailRow }[] = []
  #found = new Set<Trail>()

  /** A span or a plain log record; without a trace it belongs to none. */
  note(place: SenderPlace, record: OtlpRecord, { atMs, receivedAtMs }: { atMs: number; receivedAtMs: number }): void {
    const { traceId, span } = record
    if (traceId === null) return
    const trail = this.#trailOf(traceId)
    const took = span.endMs !== null && record.atMs !== null ? Math.max(0, span.endMs - record.atMs) : null
    const row: TrailRow = {
      traceId,
      mark: span.kind === 'span' && span.id !== null ? span.id : record.atNanos,
      kind: span.kind,
      service: place.service,
      parent: span.kind === 'span' ? span.parentId : span.id,
      atMs,
      endMs: took === null ? null : atMs + took,
      severityNumber: span.kind === 'span' ? 0 : record.severityNumber,
      name: shortened(record.body, NAME_MAX),
      detail: detailOf(record.attributes),
      receivedAtMs,
    }
    trail.waiting.push(row)
    if (trail.isHit) {
      for (const one of trail.waiting) this.#keep(trail, one)
      trail.waiting = []
    } else if (trail.waiting.length > WAITING_MAX) trail.waiting.shift()
  }

  /**
   * Something of this trace failed: what is remembered of it is kept, and what still comes. The error itself stands among them; where
   * nothing else is known of its trace it waits like the others, since alone it says nothing.
   */
  hit(place: SenderPlace, record: OtlpRecord, { name, atMs, receivedAtMs }: { name: string; atMs: number; receivedAtMs: number }): void {
    const { traceId } = record
    if (traceId === null) return
    const trail = this.#trailOf(traceId)
    const error: TrailRow = {
      traceId,
      mark: record.atNanos,
      kind: 'error',
      service: place.service,
      parent: record.span.id,
      atMs,
      endMs: null,
      severityNumber: record.severityNumber,
      name: shortened(name, NAME_MAX),
      detail: '',
      receivedAtMs,
    }
    if (!trail.isHit) {
      trail.isHit = true
      this.#found.add(trail)
    }
    trail.waiting.push(error)
    if (trail.kept === 0 && trail.waiting.every(({ kind }) => kind === 'error')) {
      if (trail.waiting.length > WAITING_MAX) trail.waiting.shift()
      return
    }
    for (const row of trail.waiting) this.#keep(trail, row)
    trail.waiting = []
  }

  /** What is to be written now, with its words scrubbed. */
  drain(scrub: (words: string) => string): TrailRow[] {
    return this.#written.map(({ row }) => {
      const clean = { ...row, name: scrub(row.name), detail: scrub(row.detail) }
      // Two lines may be written at one moment: then their words tell them apart.
      return row.kind === 'span' ? clean : { ...clean, mark: hash('sha1', `${row.service}\n${row.mark}\n${clean.name}`, 'base64url') }
    })
  }

  /** What `drain` gave is durable. */
  settle(): void {
    this.#written = []
    this.#found.clear()
  }

  /** What `drain` gave was not written: it waits again. */
  discard(): void {
    for (const { trail, row } of this.#written) {
      trail.kept--
      if (this.#found.has(trail)) trail.waiting.push(row)
    }
    for (const trail of this.#found) trail.isHit = false
    this.settle()
  }

  #trailOf(traceId: string): Trail {
    const known = this.#trails.get(traceId)
    if (known) return known
    const trail: Trail = { isHit: false, waiting: [], kept: 0 }
    this.#trails.set(traceId, trail)
    return trail
  }

  #keep(trail: Trail, row: TrailRow): void {
    if (trail.kept >= KEPT_MAX) return
    trail.kept++
    this.#written.push({ trail, row })
  }
}

/** The beginning of a text, as a text of its own: a slice would keep the whole in memory for as long as it lives. */
function shortened(words: string, charsMax: number): string {
  return words.length <= charsMax ? words : Buffer.from(words.slice(0, charsMax)).toString()
}

function detailOf(attributes: Attributes): string {
  let detail = ''
  for (const name of TELLING) {
    const value = attributes[name]
    if (value === undefined || value === null || typeof value === 'object') continue
    detail += `${detail === '' ? '' : ' '}${shortened(text(value), DETAIL_MAX)}`
    if (detail.length >= DETAIL_MAX) return shortened(detail, DETAIL_MAX)
  }
  return detail
}
