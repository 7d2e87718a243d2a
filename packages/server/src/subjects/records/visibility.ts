import { Problem } from '@dystracer/core/basics/problem'
import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'
import type { Who } from '#subjects/people/access'

/** Binds that `VISIBLE_ITEM` (queries/visible-item.ts) takes for an asker. */
export function viewerOf(who: Pick<Who, 'personId' | 'role'>): { viewer: string; seesAll: number } {
  return { viewer: who.personId ?? '', seesAll: Number(who.role === 'lead' || who.role === 'admin') }
}

interface ConfidentialRow {
  is_confidential: number
  reporter_id: string | null
  owner_id: string | null
  co_owner_ids: string
  named_ids: string
}

/** Whether a person may see an item: a confidential one is for its reporter, its owners, leads and the people named. True for an item that does not exist. */
export function maySee(db: Db, who: Pick<Who, 'personId' | 'role'>, key: string): boolean {
  const row = sql<object, ConfidentialRow>(
    db,
    'SELECT is_confidential, reporter_id, owner_id, co_owner_ids, named_ids FROM item WHERE key = @key',
  ).get({ key })
  if (!row || row.is_confidential === 0 || viewerOf(who).seesAll === 1) return true
  if (who.personId === null) return false
  return (
    row.reporter_id === who.personId ||
    row.owner_id === who.personId ||
    (JSON.parse(row.co_owner_ids) as string[]).includes(who.personId) ||
    (JSON.parse(row.named_ids) as string[]).includes(who.personId)
  )
}

/** The key that an item has now, for any that it ever had. Throws `not-found`, also for one that the asker may not see: that it exists is not told. */
export function resolveKey(db: Db, who: Pick<Who, 'personId' | 'role'>, text: string): string {
  const key = currentKey(db, text.toUpperCase())
  if (!maySee(db, who, key)) throw new Problem('not-found', { detail: `There is no item ${key}.` })
  return key
}

/** Follows an alias left by a move. */
export function currentKey(db: Db, key: string): string {
  return sql<object, { key: string }>(db, 'SELECT key FROM key_alias WHERE alias = @key').get({ key })?.key ?? key
}

/** Leaves out the items that the asker may not see. */
export function onlyVisible<Row extends { key: string; isConfidential: boolean }>(
  db: Db,
  who: Pick<Who, 'personId' | 'role'>,
  rows: readonly Row[],
): Row[] {
  return rows.filter((row) => !row.isConfidential || maySee(db, who, row.key))
}

/** Whether every item that a journal entry is about may be seen. */
export function maySeeEntry(db: Db, who: Pick<Who, 'personId' | 'role'>, entry: { subjects: readonly string[] }): boolean {
  return entry.subjects.every((subject) => !subject.startsWith('item:') || maySee(db, who, currentKey(db, subject.slice(5))))
}
