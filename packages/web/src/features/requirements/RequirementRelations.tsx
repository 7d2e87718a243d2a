import type { RequirementDetail } from '@dystracer/core/requirements/wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { fieldProblem, problemText } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button, Refusal, SectionHead } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { requirementChoices, useRelateRequirementMutation, useRequirementsQuery, useUnrelateRequirementMutation } from './requirements.api'

/** How a requirement hangs together with others: what it refines, what refines it, and whatever else a file or a person said. */
export function RequirementRelations({ data }: { data: RequirementDetail }) {
  const mayWrite = usePeople().may('requirements.write')
  const [isRelating, setIsRelating] = useState(false)
  const [unrelate] = useUnrelateRequirementMutation()
  if (data.relations.length === 0 && !mayWrite) return null
  const takeBack = async (relationId: string) => {
    const result = await unrelate({ key: data.key, relationId })
    if (result.error) toast.error(problemText(result.error))
  }
  return (
    <section aria-label="Other requirements" className="border-t border-edge px-4 py-3">
      <SectionHead>Other requirements</SectionHead>
      {data.relations.map(({ relationId, name, isOut, other, words }) => (
        <div key={relationId} className="flex items-baseline gap-3 border-b border-edge-soft py-1">
          <span className="w-[104px] shrink-0 text-[12px] text-ink-2">{isOut ? name : `${name}, seen from`}</span>
          <ThingLink to={{ kind: 'requirement', id: other.key }} />
          <span className="min-w-0 flex-1 font-serif">
            {other.title}
            {words && <span className="block text-[13px] text-ink-2">{words}</span>}
          </span>
          {mayWrite && (
            <Button look="line" aria-label={`Take back: ${name} ${other.key}`} onClick={() => void takeBack(relationId)}>
              Take back
            </Button>
          )}
        </div>
      ))}
      {mayWrite && (
        <Button look="line" className="mt-1" onClick={() => setIsRelating(true)}>
          It refines another…
        </Button>
      )}
      {isRelating && <RelateDialog data={data} onClose={() => setIsRelating(false)} />}
    </section>
  )
}

function RelateDialog({ data, onClose }: { data: RequirementDetail; onClose: () => void }) {
  const { data: all } = useRequirementsQuery()
  const [relate, { error, isLoading }] = useRelateRequirementMutation()
  const { register, handleSubmit } = useForm({ defaultValues: { name: 'refines', to: '', words: '' } })
  const submit = handleSubmit(async (input) => {
    const result = await relate({ key: data.key, ...input })
    if (!result.error) onClose()
  })
  const wrong = (field: 'name' | 'to' | 'words') => fieldProblem(error, field)
  return (
    <Dialog title={`${data.key} and another one`} isOpen onClose={onClose}>
      <form aria-label={`${data.key} and another one`} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <div className="grid grid-cols-[1fr_2fr] gap-3">
          <Field label="It" error={wrong('name')}>
            <TextInput maxLength={100} {...register('name', { required: true })} />
          </Field>
          <Field label="This one" error={wrong('to')}>
            <Choose
              none="choose"
              choices={requirementChoices(all?.rows).filter(({ value }) => value !== data.key)}
              {...register('to', { required: true })}
            />
          </Field>
        </div>
        <Field label="By what reasoning, if that is not plain" error={wrong('words')}>
          <TextArea rows={2} maxLength={2000} {...register('words')} />
        </Field>
        {!(wrong('name') ?? wrong('to') ?? wrong('words')) && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          Say so
        </Button>
      </form>
    </Dialog>
  )
}
