import { Problem } from '@dystracer/core/basics/problem'
import { type ImportProblem, type PlannedItem, RENEWED_FIELDS, type RenewedField } from '@dystracer/core/imports/import-fields'
import type { Import } from '@dystracer/core/imports/wire'
import type { ChangeItem } from '@dystracer/core/items/wire'
import { ownFieldAt } from '@dystracer/core/setup/own-field'
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
    const named = planned.said.filter((field) => ownFieldAt(field) === null) as (keyof typeof RENEWED_FIELDS)[]
    const own = planned.said.flatMap((field) => ownFieldAt(field) ?? [])
    const said = named.map((field) => [RENEWED_FIELDS[field], planned.item[RENEWED_FIELDS[field]]])
    const ownValues = Object.fromEntries(own.map((fieldId) => [fieldId, planned.item.ownValues?.[fieldId] ?? null]))
    const differs = planChange(ctx, who, key, { ...Object.fromEntries(said), ...(own.length > 0 && { ownValues }) } as ChangeItem)
    const taken: Partial<typeof differs> = {}
    const tell = (field: RenewedField, from: unknown, to: unknown) => {
      state.changeCounts[field] = (state.changeCounts[field] ?? 0) + 1
      if (state.changes.length < CHANGES_KEPT) state.changes.push({ row: planned.row, key, field, ours: shown(from), theirs: shown(to) })
      return takes.includes(field)
    }
    for (const field of named) {
      const change = differs[RENEWED_FIELDS[field]]
      if (change && tell(field, change.from, change.to)) Object.assign(taken, { [RENEWED_FIELDS[field]]: change })
    }
    const ours = differs.ownValues?.from ?? {}
    const theirs = Object.fromEntries(
      own.flatMap((fieldId) => {
        const to = differs.ownValues?.to[fieldId]
        const isOther = differs.ownValues !== undefined && JSON.stringify(ours[fieldId] ?? null) !== JSON.stringify(to ?? null)
        return isOther && tell(`own.${fieldId}`, ours[fieldId], to) ? [[fieldId, to ?? null] as const] : []
      }),
    )
    if (Object.keys(theirs).length > 0) taken.ownValues = { from: ours, to: { ...ours, ...theirs } }
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
