import { Problem } from '@dystracer/core/basics/problem'
import type { ChangeItem, BulkDone } from '@dystracer/core/items/wire'
import type { FieldChanges } from '@dystracer/core/records/events'
import type { ServiceContext } from '#platform/context'
import type { Who } from '@dystracer/core/people/who'
import { planChange, writeChange } from './items.commands.js'
import { maySee, orRefuse } from '#subjects/records/index'

/**
 * Changes many items alike in one write; each that cannot be changed is named with the reason, the others are changed. Items that stand so
 * already are left alone and not counted.
 */
export function changeMany(ctx: ServiceContext, who: Who, input: { keys: string[]; change: ChangeItem }): BulkDone {
  const refused: BulkDone['refused'] = []
  const planned: { key: string; changes: FieldChanges }[] = []
  for (const key of new Set(input.keys))
    orRefuse(refused, key, () => {
      if (!maySee(ctx.db, who, key)) throw new Problem('not-found')
      planned.push({ key, changes: planChange(ctx, who, key, input.change) })
    })
  const differing = planned.filter(({ changes }) => Object.keys(changes).length > 0)
  const seqs = ctx.journal.write((writer) => differing.flatMap(({ key, changes }) => writeChange(ctx, writer, who, key, changes) ?? []))
  return { changed: seqs.length, refused, seqs }
}
