import type { Import } from '@dystracer/core/imports/wire'
import { isDisposition, STATUS_MEANINGS } from '@dystracer/core/imports/status-words'
import { addressIn } from '@dystracer/core/imports/read-cells'
import { ADD, INVITE, type ImportValues, type ValueField } from '@dystracer/core/imports/import-fields'
import { PRIORITY_CHOICES, SEVERITIES, toChoices } from '#shared/lib/choices'
import { plural } from '#shared/lib/format'
import { usePeople } from '#features/people/index'
import { Choose } from '#shared/ui/fields'
import { SectionHead } from '#shared/ui/parts'

const MEANINGS = STATUS_MEANINGS.map((value) => ({
  value,
  label: isDisposition(value) ? `rejected: ${value.replaceAll('-', ' ')}` : value.replaceAll('-', ' '),
}))
const NOTHING: Record<ValueField, string> = {
  type: 'a defect',
  severity: 'to be decided',
  priority: 'none',
  owner: 'nobody',
  component: 'none',
  reporter: 'its name alone',
  status: 'kept in its text',
  resolution: 'nothing',
}

/**
 * The words of the file that stand for something here, as the last trial found them: what each becomes is shown and can be said anew. Who
 * is not here yet can be invited, a component added.
 */
export function ImportWords({
  seen,
  values,
  isLocked,
  onSay,
}: {
  seen: Import['seen']
  values: ImportValues
  isLocked: boolean
  onSay: (field: ValueField, text: string, becomes: string) => void
}) {
  const { me } = usePeople()
  if (seen.length === 0) return null
  const choicesOf = ({ field, text }: Import['seen'][number]) => {
    switch (field) {
      case 'owner': {
        const address = addressIn(text)
        return [
          ...(address ? [{ value: INVITE, label: `invite ${address.name}` }] : []),
          ...(me?.people ?? []).map((person) => ({ value: person.personId, label: person.name })),
        ]
      }
      case 'component':
        return [{ value: ADD, label: `add “${text}”` }, ...toChoices(me?.components ?? [])]
      case 'type':
        return toChoices(me?.setup.types.map((type) => type.type) ?? [])
      case 'reporter':
        return (me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))
      case 'status':
      case 'resolution':
        return MEANINGS
      case 'severity':
        return SEVERITIES
      default:
        return PRIORITY_CHOICES
    }
  }
  const unknown = seen.filter((word) => word.isUnknown).length
  return (
    <section aria-label="Words">
      <SectionHead>What its words become{unknown > 0 ? `: ${plural(unknown, 'word')} that nothing here is called` : ''}</SectionHead>
      <div className="max-h-[240px] overflow-y-auto">
        <table className="w-full text-left">
          <thead>
            <tr className="text-[12px] text-ink-3">
              <th className="font-normal">Field</th>
              <th className="font-normal">stands in the file</th>
              <th className="font-normal">rows</th>
              <th className="font-normal">becomes</th>
            </tr>
          </thead>
          <tbody>
            {seen.map((word) => {
              const becomes = values[word.field]?.[word.text] ?? word.becomes ?? ''
              const isOpen = word.isUnknown && values[word.field]?.[word.text] === undefined
              return (
                <tr key={`${word.field} ${word.text}`} className={`border-b border-edge-soft ${isOpen ? 'bg-ochre-soft' : ''}`}>
                  <td className="text-ink-2">{word.field}</td>
                  <td className="max-w-[200px] truncate font-mono text-[12px]">{word.text}</td>
                  <td>{word.count}</td>
                  <td className="w-[190px]">
                    <Choose
                      aria-label={`${word.field} ${word.text} becomes`}
                      className="py-0.5!"
                      disabled={isLocked}
                      none={NOTHING[word.field]}
                      value={becomes}
                      choices={choicesOf(word)}
                      onChange={(event) => onSay(word.field, word.text, event.target.value)}
                    />
                  </td>
                </tr>
              )
            })}
          </tbody>
        </table>
      </div>
    </section>
  )
}
