import type { ProjectSetup } from '@dystracer/core/setup/wire'
import { useForm } from 'react-hook-form'
import { useRepositoriesQuery } from '#features/code/code.api'
import { usePeople } from '#features/people/index'
import { toChoices } from '#shared/lib/choices'
import { DeedTable } from '#shared/ui/DeedTable'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, SectionHead } from '#shared/ui/parts'
import type { Part } from './part'

type Component = ProjectSetup['components'][number]

/** Parts of the software: who looks after each, and where its code lies, so that faults and findings there come to the right person. */
export function Components({ setup, canEdit, save, remove }: Part) {
  const { register, handleSubmit, reset } = useForm({ defaultValues: { name: '' } })
  const submit = handleSubmit(async ({ name }) => {
    if (await save('setComponent', { name: name.trim() }, `The component ${name.trim()} is there`)) reset()
  })
  return (
    <section aria-label="Components">
      <SectionHead>Components</SectionHead>
      {setup.components.length === 0 && (
        <p className="text-ink-3">None yet. A component is a part of the software that somebody looks after.</p>
      )}
      {setup.components.length > 0 && (
        <DeedTable
          headings={[
            'Name',
            { label: 'Kept by', className: 'w-[170px]' },
            { label: 'Its code is in', className: 'w-[170px]' },
            { label: 'below', className: 'w-[150px]' },
          ]}
        >
          {setup.components.map((row) => (
            <ComponentRow key={row.name} row={row} canEdit={canEdit} save={save} remove={remove} />
          ))}
        </DeedTable>
      )}
      {canEdit && (
        <form aria-label="New component" className="mt-2 flex items-end gap-2" onSubmit={(event) => void submit(event)}>
          <Field label="New component">
            <TextInput maxLength={100} {...register('name', { required: true })} />
          </Field>
          <Button type="submit">Add the component</Button>
        </form>
      )}
    </section>
  )
}

function ComponentRow({ row, canEdit, save, remove }: { row: Component } & Omit<Part, 'setup'>) {
  const { me } = usePeople()
  const { data: repositories } = useRepositoriesQuery()
  const { name, keeperId, repository, pathPrefix } = row
  const change = (fields: Partial<Component>) => void save('setComponent', { name, ...fields }, `${name} is saved`)
  const members = (me?.people ?? []).filter((person) => person.role !== null || person.personId === keeperId)
  return (
    <tr className="border-t border-edge-soft">
      <td className="py-1">{name}</td>
      <td className="pr-2">
        <Choose
          aria-label={`Keeper of ${name}`}
          className="py-0.5!"
          disabled={!canEdit}
          none="nobody"
          value={keeperId ?? ''}
          choices={members.map((person) => ({ value: person.personId, label: person.name }))}
          onChange={({ target }) => change({ keeperId: target.value || null })}
        />
      </td>
      <td className="pr-2">
        <Choose
          aria-label={`Repository of ${name}`}
          className="py-0.5!"
          disabled={!canEdit}
          none="nowhere yet"
          value={repository ?? ''}
          choices={toChoices((repositories?.rows ?? []).map((known) => known.repository))}
          onChange={({ target }) => change({ repository: target.value || null })}
        />
      </td>
      <td className="pr-2">
        <TextInput
          key={pathPrefix ?? ''}
          aria-label={`Folder of ${name}`}
          className="py-0.5! font-mono text-[12px]"
          placeholder="all of it"
          maxLength={200}
          disabled={!canEdit || repository === null}
          defaultValue={pathPrefix ?? ''}
          onBlur={(event) => {
            const typed = event.target.value.trim() || null
            if (typed !== pathPrefix) change({ pathPrefix: typed })
          }}
        />
      </td>
      <td className="text-right">
        {canEdit && (
          <Button
            look="line"
            aria-label={`take off ${name}`}
            onClick={() => void remove('components', name, `${name} is off; items that name it keep the word`)}
          >
            take off
          </Button>
        )}
      </td>
    </tr>
  )
}
