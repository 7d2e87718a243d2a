import type { Item } from '@dystracer/core/contract/items'
import type { Who } from '../services/access.js'
import { readItem } from '../services/item-views.js'
import type { ServiceContext } from '../services/service-context.js'

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
