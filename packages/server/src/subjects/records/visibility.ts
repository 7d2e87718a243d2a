import { Problem } from '@dystracer/core/basics/problem'
import type { NodeRef } from '@dystracer/core/basics/node-ref'
import { mayIn } from '@dystracer/core/people/standing'
import type { Who } from '@dystracer/core/people/who'
import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'
import { itemsTiedTo } from './link-assertions.js'
import { mayReadThing } from './things.js'
import { GET_ITEM_BY_KEY, GET_KEY_OF_KEY_ALIAS_BY_KEY } from './visibility.queries.js'

interface ConfidentialRow {
  project: string
  is_confidential: number
  reporter_id: string | null
  owner_id: string | null
  co_owner_ids: string
  named_ids: string
}

/**
 * Whether somebody may see an item: its project is theirs to read, and a confidential one is for its reporter, its owners, those who read
 * confidential items there and the people named. True for an item that does not exist.
 */
export function maySee(db: Db, who: Who, key: string): boolean {
  const row = sql(db, GET_ITEM_BY_KEY).get<ConfidentialRow>({ key })
  if (!row) return true
  if (!mayIn(who, 'project.read', row.project)) return false
  if (row.is_confidential === 0 || mayIn(who, 'items.read-confidential', row.project)) return true
  if (who.personId === null) return false
  return (
    row.reporter_id === who.personId ||
    row.owner_id === who.personId ||
    (JSON.parse(row.co_owner_ids) as string[]).includes(who.personId) ||
    (JSON.parse(row.named_ids) as string[]).includes(who.personId)
  )
}

/**
 * The key that an item has now, for any that it ever had. Throws `not-found`, also for one that the asker may not see: that it exists is
 * not told.
 */
export function resolveKey(db: Db, who: Who, text: string): string {
  const key = currentKey(db, text.toUpperCase())
  if (!maySee(db, who, key)) throw new Problem('not-found', { detail: `There is no item ${key}.` })
  return key
}

/** Follows an alias left by a move. */
export function currentKey(db: Db, key: string): string {
  return sql(db, GET_KEY_OF_KEY_ALIAS_BY_KEY).get<{ key: string }>({ key })?.key ?? key
}

/** Keys of the items that hold a standing link to a thing, as far as the asker may see them. */
export function visibleItemsTiedTo(db: Db, who: Who, ref: NodeRef): string[] {
  return itemsTiedTo(db, ref).filter((key) => maySee(db, who, key))
}

/** Leaves out the items that the asker may not see. */
export function onlyVisible<Row extends { key: string; project: string; isConfidential: boolean }>(
  db: Db,
  who: Who,
  rows: readonly Row[],
): Row[] {
  return rows.filter((row) => (row.isConfidential ? maySee(db, who, row.key) : mayIn(who, 'project.read', row.project)))
}

/** Whether a subject of the journal (`kind:id`) may be told to somebody: an item by what they may see, another thing by its project. */
export function maySeeSubject(db: Db, who: Who, subject: string): boolean {
  const colon = subject.indexOf(':')
  const kind = subject.slice(0, colon)
  const id = subject.slice(colon + 1)
  return kind === 'item' ? maySee(db, who, currentKey(db, id)) : mayReadThing(db, who, { kind, id })
}

/** Whether everything that a journal entry is about may be seen; people are not hidden. */
export function maySeeEntry(db: Db, who: Who, entry: { subjects: readonly string[] }): boolean {
  return entry.subjects.every((subject) => maySeeSubject(db, who, subject))
}
