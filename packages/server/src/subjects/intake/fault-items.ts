import { sql } from '#platform/db/statements'
import type { ServiceContext } from '#platform/context'
import { LIST_ITEM } from './fault-items.queries.js'

/** Keys of the items that stand for a fault. */
export function itemsOfFault(ctx: Pick<ServiceContext, 'db'>, number: number): string[] {
  return sql(ctx.db, LIST_ITEM)
    .all<{ key: string }>({ number })
    .map((row) => row.key)
}
