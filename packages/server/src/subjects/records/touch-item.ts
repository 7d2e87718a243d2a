import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'
import { UPDATE_ITEM_REVISION_AND_UPDATED_AT_MS } from './records.queries.js'

/** Notes that an item changed: its revision grows, and its time where the change is newer. Always true, for the appliers' last line. */
export function touchItem(db: Db, key: string, atMs: number): true {
  sql(db, UPDATE_ITEM_REVISION_AND_UPDATED_AT_MS).run({ key, atMs })
  return true
}
