import type { Who } from '@dystracer/core/people/who'
import type { FiredRow } from '@dystracer/core/faults/intake-wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { maySee } from '#subjects/records/index'
import { GET_ITEM_BY_KEY, GET_ITEM_OF_FAULT, LIST_KEY_BY_RULE } from './records.queries.js'

interface ItemRow {
  key: string
  loggedCause: string
  createdAtMs: number
  acceptedAtMs: number | null
  stageRank: number
  disposition: string | null
  disposedWords: string | null
  severity: number | null
}

/** The item that stands for a fault by now; undefined where none does. */
export function itemOf(ctx: Pick<ServiceContext, 'db'>, number: number): ItemRow | undefined {
  return sql(ctx.db, GET_ITEM_OF_FAULT).get<ItemRow>({ number })
}

/** An item by its key, as it is judged. */
export function itemByKey(ctx: Pick<ServiceContext, 'db'>, key: string): ItemRow | undefined {
  return sql(ctx.db, GET_ITEM_BY_KEY).get<ItemRow>({ key })
}

/** Keys of the items that rules made, or tied, for a fault: a trial looks at the fault as if they were not there. */
export function keysByRules(ctx: Pick<ServiceContext, 'db'>, number: number): ReadonlySet<string> {
  return new Set(
    sql(ctx.db, LIST_KEY_BY_RULE)
      .all<{ key: string }>({ number })
      .map((row) => row.key),
  )
}

/**
 * What people did with an item, in the terms of a rule: taken, rejected with the reason, or nothing yet. An
 * item that the asker may not see tells nothing.
 */
export function judge(ctx: ServiceContext, who: Who, item: ItemRow | undefined): Pick<FiredRow, 'key' | 'judgement' | 'words'> {
  if (!item || !maySee(ctx.db, who, item.key)) return { key: null, judgement: null, words: null }
  const { key, disposition, severity } = item
  if (disposition !== null)
    return {
      key,
      judgement: 'rejected',
      words: [disposition.replaceAll('-', ' '), item.disposedWords].filter(Boolean).join(': ').slice(0, 200),
    }
  if (item.acceptedAtMs !== null || item.stageRank > 0)
    return { key, judgement: 'taken', words: severity === null ? null : `severity ${severity}` }
  return { key, judgement: 'waiting', words: null }
}
