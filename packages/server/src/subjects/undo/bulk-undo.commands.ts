import { Problem } from '@dystracer/core/basics/problem'
import type { BulkDone } from '@dystracer/core/items/wire'
import type { JournalEntry } from '@dystracer/core/contract/events'
import type { ServiceContext } from '#platform/context'
import { entryBySeq } from '#platform/journal/journal.queries'
import type { Who } from '@dystracer/core/people/who'
import { takeBack } from './undo.commands.js'
import { projectOf, requireRight } from '#subjects/people/index'
import { currentKey, isUndone, orRefuse } from '#subjects/records/index'

/**
 * Takes a bulk change back in one write: what somebody changed since stays as it is and is named, the others are as they were before. Only
 * one's own changes; those that are taken back already are left alone.
 */
export function undoMany(ctx: ServiceContext, who: Who, seqs: readonly number[]): BulkDone {
  const entries = [...new Set(seqs)].flatMap((seq) => ownChange(ctx, who, seq) ?? []).filter((entry) => !isUndone(ctx, entry.seq))
  if (entries.length === 0) throw new Problem('not-found', { detail: 'There is nothing of yours that could be taken back.' })
  const refused: BulkDone['refused'] = []
  const written = ctx.journal.write((writer) => {
    const done: number[] = []
    for (const entry of entries) {
      const key = currentKey(ctx.db, entry.body.key)
      orRefuse(refused, key, () => {
        requireRight(who, 'items.change', projectOf(key))
        takeBack(ctx, writer, who, entry, key)
        done.push(entry.seq)
      })
    }
    return done
  })
  return { changed: written.length, refused, seqs: [] }
}
function ownChange(ctx: ServiceContext, who: Who, seq: number): JournalEntry<'item-changed'> | undefined {
  const entry = entryBySeq(ctx.db, seq)
  return entry?.kind === 'item-changed' && entry.actor === who.actor ? (entry as JournalEntry<'item-changed'>) : undefined
}
