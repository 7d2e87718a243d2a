import type { PassThrough } from 'node:stream'
import type { LiveMessage } from '@dystracer/core/desk/wire'
import type { JournalEntry } from '@dystracer/core/contract/events'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import { slot, type ServiceContext } from '#platform/context'
import { lastSeq, listEntriesAfter } from '#platform/journal/journal.queries'
import { getItem, maySeeSubject, toSummary } from '#subjects/records/index'

const HEARTBEAT_MS = 15_000
/** Who is so many events behind is asked to read everything anew. */
const BEHIND_MAX = 2000
/** Readers at once, of one asker and in all; each tab of a browser is one. */
const OF_ASKER_MAX = 40
const READERS_MAX = 5000
/** Who lets so much lie unread is let go: they come back, and go on from the last event that they have. */
const UNREAD_MAX_BYTES = 256 << 10
/** So long readers are told without anybody else having a turn. */
const SLICE_MS = 8

interface Reader {
  who: Who
  /** Whose windows are counted together. */
  asker: string
  stream: PassThrough
  /** Ends the connection, whatever lies in it. */
  drop: () => void
  waiting: JournalEntry[]
}

/**
 * Everyone who follows the journal live. An event is told to some readers at a time, with turns for others in between, and nothing of a
 * reader grows without end: neither what was not yet told, nor what was told and not read.
 */
export class LiveHub {
  readonly #ctx: ServiceContext
  readonly #readers = new Set<Reader>()
  #isTelling = false
  #heartbeat: NodeJS.Timeout | undefined
  #stop: () => void = () => {}

  constructor(ctx: ServiceContext) {
    this.#ctx = ctx
  }

  get size(): number {
    return this.#readers.size
  }

  /**
   * Tells a new reader from now on, or from behind the event that they have last; gives what ends it. Throws `too-many-requests` for an
   * asker who follows too often already.
   */
  join({ who, asker, stream, drop, lastHad }: Omit<Reader, 'waiting'> & { lastHad: number | null }): () => void {
    const ofAsker = [...this.#readers].filter((reader) => reader.asker === asker).length
    if (ofAsker >= OF_ASKER_MAX || this.#readers.size >= READERS_MAX)
      throw new Problem('too-many-requests', {
        detail: `At most ${OF_ASKER_MAX} windows of one person follow at once. Close some, then load this one again.`,
        headers: { 'retry-after': '60' },
      })
    const { db } = this.#ctx
    stream.write(`retry: 1000\nid: ${lastSeq(db)}\nevent: hello\ndata: {}\n\n`)
    const reader: Reader = { who, asker, stream, drop, waiting: lastHad === null ? [] : listEntriesAfter(db, lastHad, BEHIND_MAX) }
    if (this.#readers.size === 0) this.#begin()
    this.#readers.add(reader)
    if (reader.waiting.length > 0) this.#tellSoon()
    return () => {
      this.#readers.delete(reader)
      if (this.#readers.size === 0) this.#rest()
    }
  }

  #begin(): void {
    this.#stop = this.#ctx.journal.onCommit((entries) => {
      for (const { waiting } of this.#readers) waiting.push(...entries)
      this.#tellSoon()
    })
    this.#heartbeat = setInterval(() => {
      for (const reader of this.#readers) this.#write(reader, ': still here\n\n')
    }, HEARTBEAT_MS)
  }

  #rest(): void {
    this.#stop()
    clearInterval(this.#heartbeat)
  }

  #tellSoon(): void {
    if (this.#isTelling) return
    this.#isTelling = true
    setImmediate(() => this.#tell())
  }

  #tell(): void {
    const untilMs = performance.now() + SLICE_MS
    // What one event says is the same for nearly all: it is put together once for all who may see the same of it.
    const texts = new Map<string, string>()
    let isMore = false
    for (const reader of this.#readers) {
      if (reader.stream.destroyed) reader.waiting = []
      if (reader.waiting.length >= BEHIND_MAX) {
        reader.waiting = []
        this.#write(reader, 'event: reset\ndata: {}\n\n')
      }
      while (reader.waiting.length > 0 && performance.now() < untilMs) {
        const entry = reader.waiting.shift() as JournalEntry
        this.#write(reader, textFor(this.#ctx, reader.who, entry, texts))
      }
      if (reader.waiting.length > 0) {
        isMore = true
        // It is the first of the next turn, and who was told goes behind the others.
        this.#readers.delete(reader)
        this.#readers.add(reader)
        break
      }
    }
    this.#isTelling = false
    if (isMore) this.#tellSoon()
  }

  #write(reader: Reader, text: string): void {
    reader.stream.write(text)
    if (reader.stream.writableLength + reader.stream.readableLength <= UNREAD_MAX_BYTES) return
    this.#ctx.log.info({ actor: reader.who.actor }, 'who follows live does not read: the connection is ended')
    reader.waiting = []
    reader.drop()
  }
}

function textFor(ctx: ServiceContext, who: Who, entry: JournalEntry, texts: Map<string, string>): string {
  const subjects = entry.subjects.filter((subject) =>
    // What another person is told or has in hand is theirs.
    subject.startsWith('person:') ? subject === `person:${who.personId}` : maySeeSubject(ctx.db, who, subject),
  )
  const key = `${entry.seq} ${subjects.join(' ')}`
  const known = texts.get(key)
  if (known !== undefined) return known
  const text = `id: ${entry.seq}\ndata: ${JSON.stringify(toMessage(ctx, entry, subjects))}\n\n`
  texts.set(key, text)
  return text
}

/** What is told of an event to those who may see these of its subjects; where that is none, no more than that something happened. */
function toMessage(ctx: ServiceContext, entry: JournalEntry, subjects: string[]): LiveMessage {
  const key = subjects.find((subject) => subject.startsWith('item:'))?.slice(5)
  const row = key ? getItem(ctx.db, key) : undefined
  const ladder = entry.kind === 'ladder-moved' && key !== undefined ? entry.body.ladder : null
  return { seq: entry.seq, kind: entry.kind, atMs: entry.atMs, subjects, item: row ? toSummary(row) : null, ladder }
}

const HUB = slot('who follows live', (ctx) => new LiveHub(ctx))

export function liveHub(ctx: ServiceContext): LiveHub {
  return ctx.use(HUB)
}
