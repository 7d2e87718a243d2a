import { PassThrough } from 'node:stream'
import { deskOperations } from '@dystracer/core/desk/wire'
import type { Api } from '#platform/http/api'
import { liveHub } from './live-hub.js'

/**
 * GET /api/v1/live: Server-Sent Events from the journal. `Last-Event-ID` (or ?cursor=) goes on where a stream broke off; without one it
 * begins now.
 */
export function addLiveRoute(api: Api): void {
  api.handle(deskOperations.followLive, ({ ctx, who, query, koa }) => {
    const asked = koa.get('last-event-id') || (query.cursor ?? '')
    const stream = new PassThrough()
    const leave = liveHub(ctx).join({
      who,
      // Guests are all called the same: they are told apart by where they come from.
      asker: who.via === 'anonymous' ? koa.ip : who.actor,
      stream,
      drop: () => koa.req.socket.destroy(),
      lastHad: /^\d{1,15}$/.test(asked) ? Number(asked) : null,
    })
    koa.set({ 'content-type': 'text/event-stream', 'cache-control': 'no-cache, no-transform', 'x-accel-buffering': 'no' })
    koa.compress = false
    koa.body = stream
    // Of whatever ends the connection, this is what always comes: Koa destroys what it was sending.
    stream.once('close', leave)
  })
}
