import { useFormContext } from 'react-hook-form'
import { useRepositoriesQuery } from '#features/code/code.api'
import { toChoices } from '#shared/lib/choices'
import { Choose, Field, TextInput } from '#shared/ui/fields'

export interface BuiltFromDraft {
  repository: string
  pathPrefix: string
  tagPrefix: string
}

/**
 * Fields of the form around: the repository that a service is built from, the folder in it, and how
 * its releases are told among the tags.
 */
export function BuiltFrom() {
  const { data } = useRepositoriesQuery()
  const { register, watch } = useFormContext<BuiltFromDraft>()
  const repository = watch('repository')
  return (
    <>
      <Field label="Built from">
        <Choose
          {...(repository === '' && { none: 'choose a repository' })}
          {...register('repository')}
          // A repository that is kept is among the choices before they are read, so that it stays chosen.
          key={data ? 'read' : 'unread'}
          choices={toChoices(data?.rows.map((row) => row.repository) ?? [repository].filter(Boolean))}
        />
      </Field>
      <Field label="In the folder (none: all of it)">
        <TextInput className="w-[150px]! font-mono" placeholder="services/web" maxLength={200} {...register('pathPrefix')} />
      </Field>
      <Field label="Its tags begin with">
        <TextInput className="w-[80px]!" maxLength={50} {...register('tagPrefix')} />
      </Field>
    </>
  )
}
