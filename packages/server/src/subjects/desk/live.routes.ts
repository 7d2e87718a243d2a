import { PassThrough } from 'node:stream'
import { deskOperations, type LiveMessage } from '@dystracer/core/desk/wire'
import type { JournalEntry } from '@dystracer/core/contract/events'
import { lastSeq, listEntriesAfter } from '#platform/journal/journal.queries'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import type { Api } from '#platform/http/api'
import { getItem, maySeeSubject, toSummary } from '#subjects/records/index'

const HEARTBEAT_MS = 15_000
const CATCH_UP_MAX = 2000

/**
 * GET /api/v1/live: Server-Sent Events from the journal. `Last-Event-ID` (or ?cursor=) goes on where a stream broke off; without one it
 * begins now.
 */
export function addLiveRoute(api: Api): void {
  api.handle(deskOperations.followLive, ({ ctx, who, query, koa }) => {
    const asked = koa.get('last-event-id') || (query.cursor ?? '')
    const stream = new PassThrough()
    koa.set({ 'content-type': 'text/event-stream', 'cache-control': 'no-cache, no-transform', 'x-accel-buffering': 'no' })
    koa.compress = false
    koa.body = stream
    const send = (entry: JournalEntry) => stream.write(`id: ${entry.seq}\ndata: ${JSON.stringify(toMessage(ctx, who, entry))}\n\n`)
    stream.write(`retry: 1000\nid: ${lastSeq(ctx.db)}\nevent: hello\ndata: {}\n\n`)
    if (/^\d{1,15}$/.test(asked)) {
      const missed = listEntriesAfter(ctx.db, Number(asked), CATCH_UP_MAX)
      // Too much to tell one by one: the reader is asked to read everything anew.
      if (missed.length === CATCH_UP_MAX) stream.write('event: reset\ndata: {}\n\n')
      else missed.forEach(send)
    }
    const stop = ctx.journal.onCommit((entries) => entries.forEach(send))
    const heartbeat = setInterval(() => stream.write(': still here\n\n'), HEARTBEAT_MS)
    koa.req.on('close', () => {
      stop()
      clearInterval(heartbeat)
      stream.end()
    })
  })
}

/** What an asker is told of an event; of an item that they may not see nothing but that something happened. */
function toMessage(ctx: ServiceContext, who: Who, entry: JournalEntry): LiveMessage {
  const subjects = entry.subjects.filter((subject) =>
    // What another person is told or has in hand is theirs.
    subject.startsWith('person:') ? subject === `person:${who.personId}` : maySeeSubject(ctx.db, who, subject),
  )
  const key = subjects.find((subject) => subject.startsWith('item:'))?.slice(5)
  const row = key ? getItem(ctx.db, key) : undefined
  const ladder = entry.kind === 'ladder-moved' && key !== undefined ? entry.body.ladder : null
  return { seq: entry.seq, kind: entry.kind, atMs: entry.atMs, subjects, item: row ? toSummary(row) : null, ladder }
}
