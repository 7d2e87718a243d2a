import { sql } from '#platform/db/statements'
import type { ServiceContext } from '#platform/context'
import { LIST_LINK_ASSERTION_BY_ID_AND_KIND } from './records.queries.js'

/**
 * The way from one item to another along standing links of a kind, both ends included; null when there is none. A link back would close a
 * loop.
 */
export function findLoop(ctx: Pick<ServiceContext, 'db'>, kind: string, fromKey: string, wanted: string): string[] | null {
  const queue: string[][] = [[fromKey]]
  const seen = new Set<string>()
  for (let path = queue.shift(); path; path = queue.shift()) {
    const last = path.at(-1) ?? ''
    if (last === wanted) return path
    if (seen.has(last)) continue
    seen.add(last)
    const next = sql(ctx.db, LIST_LINK_ASSERTION_BY_ID_AND_KIND).all<{ to_id: string }>({ id: last, kind })
    for (const row of next) queue.push([...path, row.to_id])
  }
  return null
}
