import type { ProjectSetup } from '@dystracer/core/setup/wire'
import { useForm } from 'react-hook-form'
import { useState } from 'react'
import { DateInput } from '#shared/ui/DateInput'
import { DeedTable } from '#shared/ui/DeedTable'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, SectionHead } from '#shared/ui/parts'
import type { Part } from './part'

type Row = ProjectSetup['milestones'][number]

/** What items are planned for, with days; a new name goes to the items too. */
export function Milestones({ setup, canEdit, save, remove }: Part) {
  const { register, handleSubmit, watch, reset } = useForm({ defaultValues: { name: '' } })
  return (
    <section aria-label="Milestones">
      <SectionHead>Milestones</SectionHead>
      {setup.milestones.length === 0 && <p className="text-ink-3">None yet. A milestone is a name with days that items are planned for.</p>}
      {setup.milestones.length > 0 && (
        <DeedTable
          headings={[
            { label: 'Name', className: 'w-[240px]' },
            'Starts',
            'Due',
            { label: 'Open', className: 'text-right' },
            { label: 'Settled', className: 'text-right' },
          ]}
        >
          {setup.milestones.map((row) => (
            <MilestoneRow key={row.name} row={row} canEdit={canEdit} save={save} remove={remove} />
          ))}
        </DeedTable>
      )}
      {canEdit && (
        <form
          aria-label="New milestone"
          className="mt-1 flex items-end gap-2"
          onSubmit={(event) =>
            void handleSubmit(async ({ name }) => {
              if (await save('setMilestone', { milestone: { name: name.trim() } }, `The milestone ${name.trim()} is there`)) reset()
            })(event)
          }
        >
          <Field label="New milestone">
            <TextInput maxLength={50} placeholder="4.3" {...register('name')} />
          </Field>
          <Button type="submit" disabled={watch('name').trim() === ''}>
            Add the milestone
          </Button>
        </form>
      )}
    </section>
  )
}

function MilestoneRow({ row, canEdit, save, remove }: Omit<Part, 'setup'> & { row: Row }) {
  const [name, setName] = useState(row.name)
  const change = (milestone: Partial<Row>) =>
    save(
      'setMilestone',
      {
        milestone: { name: row.name, startsOn: row.startsOn, dueOn: row.dueOn, isClosed: row.isClosed, ...milestone },
        formerName: row.name,
      },
      `${row.name} is saved`,
    )
  const isUsed = row.openItems + row.settledItems > 0
  return (
    <tr className={`border-b border-edge-soft ${row.isClosed ? 'text-ink-3' : ''}`}>
      <td className="py-0.5 pr-2">
        <TextInput
          aria-label={`Name of ${row.name}`}
          className="py-0.5!"
          disabled={!canEdit}
          maxLength={50}
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter') event.currentTarget.blur()
            if (event.key === 'Escape') setName(row.name)
          }}
          onBlur={() => {
            const wanted = name.trim()
            if (wanted === '' || wanted === row.name) setName(row.name)
            else void change({ name: wanted }).then((isSaved) => !isSaved && setName(row.name))
          }}
        />
      </td>
      <td className="w-[136px] pr-2">
        <DateInput
          label={`Start of ${row.name}`}
          className="py-0.5!"
          disabled={!canEdit}
          value={row.startsOn ?? ''}
          onDone={(day) => void change({ startsOn: day || null })}
        />
      </td>
      <td className="w-[136px] pr-2">
        <DateInput
          label={`Due day of ${row.name}`}
          className="py-0.5!"
          disabled={!canEdit}
          value={row.dueOn ?? ''}
          onDone={(day) => void change({ dueOn: day || null })}
        />
      </td>
      <td className="text-right">{row.openItems}</td>
      <td className="text-right">{row.settledItems}</td>
      <td className="pl-3 text-right whitespace-nowrap">
        {canEdit && (
          <>
            <Button
              look="text"
              onClick={() => void change({ isClosed: !row.isClosed })}
              aria-label={`${row.isClosed ? 'Open again' : 'Close'} ${row.name}`}
            >
              {row.isClosed ? 'open again' : 'close'}
            </Button>
            {!isUsed && (
              <Button
                look="text"
                className="ml-2"
                aria-label={`Remove ${row.name}`}
                onClick={() => void remove('milestones', row.name, `${row.name} is removed`)}
              >
                remove
              </Button>
            )}
          </>
        )}
      </td>
    </tr>
  )
}
