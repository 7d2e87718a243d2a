import { ATTRIBUTE_KINDS, type AttributeKind } from '@dystracer/core/requirements/attributes'
import { useFieldArray, useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { fieldProblem } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, TextInput } from '#shared/ui/fields'
import { Button, Pending, Refusal } from '#shared/ui/parts'
import { useDefineAttributesMutation, useRequirementAttributesQuery } from './requirements.api'

const KINDS: Record<AttributeKind, string> = {
  line: 'a line',
  prose: 'text with markup',
  number: 'a number',
  date: 'a day',
  'yes-no': 'yes or no',
  choice: 'one of …',
}
interface Line {
  name: string
  kind: AttributeKind | 'several'
  choices: string
}

/** The attributes that requirements of a project have beside the common ones. */
export function AttributesDialog({ project, onClose }: { project: string; onClose: () => void }) {
  const { data, error, isLoading } = useRequirementAttributesQuery(project)
  return (
    <Dialog title="What is said of requirements" isOpen onClose={onClose}>
      <div className="space-y-3 px-4 py-3">
        <Pending error={error} isLoading={isLoading} />
        {data && (
          <>
            <p className="text-ink-2">
              Every requirement may say:{' '}
              {data.rows
                .filter(({ isOwn }) => !isOwn)
                .map(({ name }) => name)
                .join(', ')}
              . In this project further:
            </p>
            <OwnAttributes
              project={project}
              onClose={onClose}
              lines={data.rows
                .filter(({ isOwn }) => isOwn)
                .map(({ name, kind, choices, isMany }) => ({ name, kind: isMany ? 'several' : kind, choices: choices.join('; ') }))}
            />
          </>
        )}
      </div>
    </Dialog>
  )
}

function OwnAttributes({ project, lines, onClose }: { project: string; lines: Line[]; onClose: () => void }) {
  const [define, { error, isLoading }] = useDefineAttributesMutation()
  const { register, handleSubmit, control, watch } = useForm<{ lines: Line[] }>({ defaultValues: { lines } })
  const { fields, append, remove } = useFieldArray({ control, name: 'lines' })
  const submit = handleSubmit(async (draft) => {
    const attributes = draft.lines.map(({ name, kind, choices }) => ({
      name,
      kind: kind === 'several' ? ('choice' as const) : kind,
      choices: kind === 'several' || kind === 'choice' ? choices.split(/\s*;\s*/).filter((word) => word !== '') : [],
      isMany: kind === 'several',
    }))
    const result = await define({ project, attributes })
    if (result.error) return
    toast.success('Requirements say that from now on')
    onClose()
  })
  const wrong = fieldProblem(error, 'attributes')
  return (
    <form aria-label="Attributes of this project" className="space-y-2" onSubmit={(event) => void submit(event)}>
      {fields.map((field, at) => {
        const kind = watch(`lines.${at}.kind`)
        return (
          <div key={field.id} className="grid grid-cols-[1fr_140px_1fr_auto] items-center gap-2">
            <TextInput aria-label={`Name of attribute ${at + 1}`} maxLength={100} {...register(`lines.${at}.name`, { required: true })} />
            <Choose
              aria-label={`Kind of attribute ${at + 1}`}
              choices={[...ATTRIBUTE_KINDS.map((one) => ({ value: one, label: KINDS[one] })), { value: 'several', label: 'several of …' }]}
              {...register(`lines.${at}.kind`)}
            />
            {kind === 'choice' || kind === 'several' ? (
              <TextInput aria-label={`Words of attribute ${at + 1}`} placeholder="low; high" {...register(`lines.${at}.choices`)} />
            ) : (
              <span />
            )}
            <Button look="line" aria-label={`Remove attribute ${at + 1}`} onClick={() => remove(at)}>
              Remove
            </Button>
          </div>
        )
      })}
      <Button look="line" onClick={() => append({ name: '', kind: 'line', choices: '' })}>
        And another…
      </Button>
      {wrong && (
        <p role="alert" className="text-fault">
          {wrong}
        </p>
      )}
      {!wrong && <Refusal error={error} />}
      <p className="text-[12px] text-ink-2">
        What is removed here is not shown any more; what requirements said stays, should it come back.
      </p>
      <Button look="main" type="submit" disabled={isLoading}>
        Save
      </Button>
    </form>
  )
}
