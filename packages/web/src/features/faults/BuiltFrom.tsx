import { useRepositoriesQuery } from '#features/code/code.api'
import { toChoices } from '#shared/lib/choices'
import { Choose, Field, TextInput } from '#shared/ui/fields'

export interface BuiltFromDraft {
  repository: string
  pathPrefix: string
  tagPrefix: string
}

/** What a service is built from: the repository, the folder in it, and how its releases are told among the tags. */
export function BuiltFrom({ draft, onChange }: { draft: BuiltFromDraft; onChange: (change: Partial<BuiltFromDraft>) => void }) {
  const { data } = useRepositoriesQuery()
  return (
    <>
      <Field label="Built from">
        <Choose
          {...(draft.repository === '' && { none: 'choose a repository' })}
          value={draft.repository}
          choices={toChoices(data?.rows.map((row) => row.repository) ?? [draft.repository].filter(Boolean))}
          onChange={(event) => onChange({ repository: event.target.value })}
        />
      </Field>
      <Field label="In the folder (none: all of it)">
        <TextInput
          className="w-[150px]! font-mono"
          placeholder="services/kiln"
          maxLength={200}
          value={draft.pathPrefix}
          onChange={(event) => onChange({ pathPrefix: event.target.value })}
        />
      </Field>
      <Field label="Its tags begin with">
        <TextInput
          className="w-[80px]!"
          maxLength={50}
          value={draft.tagPrefix}
          onChange={(event) => onChange({ tagPrefix: event.target.value })}
        />
      </Field>
    </>
  )
}
