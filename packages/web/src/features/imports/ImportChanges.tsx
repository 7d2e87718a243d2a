import type { Import } from '@dystracer/core/imports/wire'
import { RENEWED_FIELD_NAMES, type RenewedField } from '@dystracer/core/imports/import-fields'
import { ownFieldAt, type OwnPlace } from '@dystracer/core/setup/own-field'
import { plural } from '#shared/lib/format'
import { usePeople } from '#features/people/index'
import { SectionHead } from '#shared/ui/parts'

/** What a field is called: own ones by the name that the project gave them. */
function useOwnNames(): { nameOf: (field: RenewedField) => string } {
  const { me } = usePeople()
  return { nameOf: (field) => me?.setup.ownFields.find(({ fieldId }) => fieldId === ownFieldAt(field))?.name ?? field }
}

/** Where rows that were imported before differ from their items: who is right is said for each field. */
export function ImportChanges({
  data,
  takes,
  isLocked,
  onTakes,
}: {
  data: Import
  takes: readonly RenewedField[]
  isLocked: boolean
  onTakes: (takes: readonly RenewedField[]) => void
}) {
  const { nameOf } = usePeople()
  const { nameOf: nameOfPlace } = useOwnNames()
  const isCounted = (field: RenewedField) => data.changeCounts[field] !== undefined
  const own = Object.keys(data.changeCounts).filter((field): field is OwnPlace => ownFieldAt(field) !== null)
  const fields: RenewedField[] = [...RENEWED_FIELD_NAMES.filter(isCounted), ...own]
  if (fields.length === 0) return null
  const shown = (field: RenewedField, value: string) => (value === '' ? 'nothing' : field === 'owner' ? nameOf(`person:${value}`) : value)
  return (
    <section aria-label="What differs">
      <SectionHead>Imported before, and other in the file now</SectionHead>
      <fieldset aria-label="Fields in which the file is right" className="m-0 flex flex-wrap items-center gap-x-4 border-0 p-0">
        <span className="text-ink-2">The file is right in</span>
        {fields.map((field) => (
          <label key={field} className="flex items-center gap-1">
            <input
              type="checkbox"
              disabled={isLocked}
              checked={takes.includes(field)}
              onChange={(event) => onTakes(event.target.checked ? [...takes, field] : takes.filter((known) => known !== field))}
            />
            {nameOfPlace(field)} <span className="text-[12px] text-ink-3">{plural(data.changeCounts[field] ?? 0, 'item')}</span>
          </label>
        ))}
        <span className="text-[12px] text-ink-2">in all others the items stay as they are</span>
      </fieldset>
      <div className="mt-1 max-h-[240px] overflow-y-auto">
        <table className="w-full text-left">
          <thead>
            <tr className="text-[12px] text-ink-3">
              <th className="font-normal">Row</th>
              <th className="font-normal">item</th>
              <th className="font-normal">field</th>
              <th className="font-normal">here</th>
              <th className="font-normal">in the file</th>
            </tr>
          </thead>
          <tbody>
            {data.changes.map(({ row, key, field, ours, theirs }) => (
              <tr key={`${row} ${field}`} className="border-b border-edge-soft align-top">
                <td className="w-[44px] text-ink-3">{row}</td>
                <td className="w-[76px] font-mono text-[12px]">{key}</td>
                <td className="w-[90px]">{nameOfPlace(field)}</td>
                <td className={takes.includes(field) ? 'text-ink-3 line-through' : ''}>{shown(field, ours)}</td>
                <td className={takes.includes(field) ? 'text-proof' : 'text-ink-2'}>{shown(field, theirs)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}
