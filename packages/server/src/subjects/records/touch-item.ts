import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'

/** Notes that an item changed: its revision grows, and its time where the change is newer. Always true, for the appliers' last line. */
export function touchItem(db: Db, key: string, atMs: number): true {
  sql(db, 'UPDATE item SET revision = revision + 1, updated_at_ms = max(updated_at_ms, @atMs) WHERE key = @key').run({ key, atMs })
  return true
}
