import { Problem } from '@dystracer/core/basics/problem'
import { getItem, type ItemRow } from './item-row.queries.js'
import type { ServiceContext } from '#platform/context'

/** The item, or a `not-found` problem that says what was looked for. */
export function requireItem(ctx: Pick<ServiceContext, 'db'>, key: string): ItemRow {
  const row = getItem(ctx.db, key)
  if (!row) throw new Problem('not-found', { detail: `There is no item ${key}.` })
  return row
}
