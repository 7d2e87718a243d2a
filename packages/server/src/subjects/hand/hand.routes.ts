import type { ServiceContext } from '#platform/context'
import type { Api } from '#platform/http/api'
import type { Who } from '@dystracer/core/people/who'
import { readHand, takeInHand, parkItem, putDown, bookHand } from './hand.commands.js'
import { readNote, writeNote } from './notes.commands.js'
import { type Hand, handOperations } from '@dystracer/core/hand/wire'
import { resolveKey } from '#subjects/records/index'

/** A handler that changes what is in hand and answers with it as it then is. */
function thenHand<Body>(change: (ctx: ServiceContext, who: Who, key: string, body: Body) => void): (asked: Asked<Body>) => Hand {
  return ({ ctx, who, params, body }) => {
    change(ctx, who, params.key ?? '', body)
    return readHand(ctx, who)
  }
}

interface Asked<Body> {
  ctx: ServiceContext
  who: Who
  params: { key?: string }
  body: Body
}

export function addHandRoutes(api: Api): void {
  api.handle(handOperations.readHand, ({ ctx, who }) => readHand(ctx, who))
  api.handle(
    handOperations.takeInHand,
    thenHand((ctx, who, _key, body) => takeInHand(ctx, who, { ...body, key: resolveKey(ctx.db, who, body.key) })),
  )
  api.handle(handOperations.parkItem, thenHand(parkItem))
  api.handle(handOperations.putDown, thenHand(putDown))
  api.handle(
    handOperations.bookHand,
    thenHand((ctx, who, key, body) => bookHand(ctx, who, key, body.minutes)),
  )
  api.handle(handOperations.readNote, ({ ctx, who, params }) => readNote(ctx, who, params.key))
  api.handle(handOperations.writeNote, ({ ctx, who, params, body }) => {
    writeNote(ctx, who, params.key, body.text)
    return readNote(ctx, who, params.key)
  })
}
