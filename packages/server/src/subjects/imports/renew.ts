import { Problem } from '@dystracer/core/basics/problem'
import { type ImportProblem, type PlannedItem, RENEWED_FIELDS, type RenewedField } from '@dystracer/core/imports/import-plan'
import type { Import } from '@dystracer/core/imports/wire'
import type { ChangeItem } from '@dystracer/core/items/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import type { JournalWriter } from '#platform/journal/journal'
import { planChange, writeChange } from '#subjects/items/index'
import { currentKey } from '#subjects/records/index'

const CHANGES_KEPT = 300
const SHOWN_MAX = 120

/**
 * Looks in what a row that was imported before differs from its item now, and notes it; in the fields that are taken, the item becomes what
 * the file says. Where the file says nothing, or nothing that could be read, the item is right.
 */
export function renew(
  ctx: ServiceContext,
  writer: JournalWriter | null,
  who: Who,
  {
    key: firstKey,
    planned,
    state,
    takes,
    note,
  }: {
    key: string
    planned: PlannedItem
    state: Import
    takes: readonly RenewedField[]
    note: (problems: ImportProblem[]) => void
  },
): void {
  const key = currentKey(ctx.db, firstKey)
  try {
    const said = planned.said.map((field) => [RENEWED_FIELDS[field], planned.item[RENEWED_FIELDS[field]]])
    const differs = planChange(ctx, who, key, Object.fromEntries(said) as ChangeItem)
    const taken: Partial<typeof differs> = {}
    for (const field of planned.said) {
      const change = differs[RENEWED_FIELDS[field]]
      if (change === undefined) continue
      state.changeCounts[field] = (state.changeCounts[field] ?? 0) + 1
      if (state.changes.length < CHANGES_KEPT)
        state.changes.push({ row: planned.row, key, field, ours: shown(change.from), theirs: shown(change.to) })
      if (takes.includes(field)) Object.assign(taken, { [RENEWED_FIELDS[field]]: change })
    }
    if (Object.keys(taken).length === 0) return
    state.renewed++
    if (writer) writeChange(ctx, writer, who, key, taken)
  } catch (error) {
    // Somebody took it away from the importer's sight, or a rule of the project refuses it: told, and the item stays as it is.
    if (!(error instanceof Problem)) throw error
    note([{ row: planned.row, column: null, code: 'not-renewed', value: `${key}: ${error.message}`.slice(0, 200) }])
  }
}

function shown(value: unknown): string {
  const text = Array.isArray(value) ? value.join(', ') : value === null || value === undefined ? '' : String(value)
  return text.length > SHOWN_MAX ? `${text.slice(0, SHOWN_MAX)}…` : text
}
