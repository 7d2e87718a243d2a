import type { JournalEntry } from '@dystracer/core/contract/events'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import { HAS_JOURNAL_BY_SEQ } from './records.queries.js'

const UNDOABLE = new Set<string>(['item-changed', 'item-rejected', 'link-asserted', 'link-retracted', 'triage-decided', 'fault-acted'])
/** Whether an entry is a person's own change that `undo` can take back. */
export function canUndo(who: Who, entry: Pick<JournalEntry, 'actor' | 'kind'>): boolean {
  return who.personId !== null && entry.actor === who.actor && UNDOABLE.has(entry.kind)
}
/** Whether an entry was taken back. */
export function isUndone(ctx: ServiceContext, seq: number): boolean {
  return sql(ctx.db, HAS_JOURNAL_BY_SEQ).get({ seq }) !== undefined
}
