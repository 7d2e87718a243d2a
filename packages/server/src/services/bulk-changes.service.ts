import { Problem } from '@dystracer/core/basics/problem'
import type { BulkDone, ChangeItem } from '@dystracer/core/contract/items'
import type { FieldChanges, JournalEntry } from '../journal/events.js'
import { entryBySeq } from '../journal/journal.queries.js'
import { inProject, projectOf, requireRole, type Who } from './access.js'
import { isUndone, takeBack } from './item-moves.service.js'
import { planChange, writeChange } from './items.service.js'
import type { ServiceContext } from './service-context.js'
import { currentKey, maySee } from './visibility.js'

/** Changes many items alike in one write; each that cannot be changed is named with the reason, the others are changed. Items that stand so already are left alone and not counted. */
export function changeMany(ctx: ServiceContext, who: Who, input: { keys: string[]; change: ChangeItem }): BulkDone {
  requireRole(who, 'member')
  const refused: BulkDone['refused'] = []
  const planned: { key: string; in: Who; changes: FieldChanges }[] = []
  for (const key of new Set(input.keys))
    orRefuse(refused, key, () => {
      if (!maySee(ctx.db, who, key)) throw new Problem('not-found')
      const there = inProject(ctx.db, who, projectOf(key))
      planned.push({ key, in: there, changes: planChange(ctx, there, key, input.change) })
    })
  const differing = planned.filter(({ changes }) => Object.keys(changes).length > 0)
  const seqs = ctx.journal.write((writer) => differing.flatMap(({ key, in: there, changes }) => writeChange(ctx, writer, there, key, changes) ?? []))
  return { changed: seqs.length, refused, seqs }
}

/** Takes a bulk change back in one write: what somebody changed since stays as it is and is named, the others are as they were before. Only one's own changes; those that are taken back already are left alone. */
export function undoMany(ctx: ServiceContext, who: Who, seqs: readonly number[]): BulkDone {
  requireRole(who, 'member')
  const entries = [...new Set(seqs)].flatMap((seq) => ownChange(ctx, who, seq) ?? []).filter((entry) => !isUndone(ctx, entry.seq))
  if (entries.length === 0) throw new Problem('not-found', { detail: 'There is nothing of yours that could be taken back.' })
  const refused: BulkDone['refused'] = []
  const written = ctx.journal.write((writer) => {
    const done: number[] = []
    for (const entry of entries) {
      const key = currentKey(ctx.db, entry.body.key)
      orRefuse(refused, key, () => {
        const there = inProject(ctx.db, who, projectOf(key))
        requireRole(there, 'member')
        takeBack(ctx, writer, there, entry, key)
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

function orRefuse(refused: BulkDone['refused'], key: string, act: () => void): void {
  try {
    act()
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    refused.push({ key, why: [error.message, ...Object.values(error.fields ?? {})].join(' ') })
  }
}
