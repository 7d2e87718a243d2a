import type { Item } from '@dystracer/core/items/wire'
import type { Who } from '@dystracer/core/people/who'
import { readItem } from './items.views.js'
import type { ServiceContext } from '#platform/context'

/** The API has resolved the key already: aliases, and what the asker may not see. */
export function keyOf(params: Record<string, string>): string {
  return params.key ?? ''
}

interface Asked<Body> {
  ctx: ServiceContext
  who: Who
  params: Record<string, string>
  body: Body
}

/** A handler that changes the item of the path and answers with it as it then stands. */
export function thenItem<Body>(change: (ctx: ServiceContext, who: Who, key: string, body: Body) => void): (asked: Asked<Body>) => Item {
  return ({ ctx, who, params, body }) => {
    change(ctx, who, keyOf(params), body)
    return readItem(ctx, who, keyOf(params))
  }
}
