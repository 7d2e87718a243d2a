import { minorChange } from '@dystracer/core/requirements/minor-change'
import type { RequirementDetail } from '@dystracer/core/requirements/wire'
import { useForm, useWatch } from 'react-hook-form'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { TextArea, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { RequirementProse } from './RequirementProse'
import { usePicturePaste } from './use-picture-paste'
import { useWriteRequirementMutation } from './requirements.api'

/** The sentence of a requirement, and its writing: a changed text is a new revision. */
export function RequirementText({ data }: { data: RequirementDetail }) {
  const people = usePeople()
  const [isWriting, setIsWriting] = useState(false)
  return (
    <div className="px-4 py-3">
      {isWriting ? <Writing data={data} onDone={() => setIsWriting(false)} /> : <RequirementProse text={data.text} />}
      <p className="mt-2 text-[12px] text-ink-2">
        revision {data.revision}
        {people.may('requirements.write') && !isWriting && (
          <>
            {' '}
            ·{' '}
            <button type="button" className="link" onClick={() => setIsWriting(true)}>
              edit
            </button>
          </>
        )}
      </p>
    </div>
  )
}

function Writing({ data, onDone }: { data: RequirementDetail; onDone: () => void }) {
  const [write, { error, isLoading }] = useWriteRequirementMutation()
  const { register, handleSubmit, control, setValue } = useForm({
    defaultValues: { title: data.title, text: data.text, because: '', isMinor: false },
  })
  const [text, isMinor] = useWatch({ control, name: ['text', 'isMinor'] })
  const { heavy } = minorChange(data.text, text)
  const pictures = usePicturePaste(text, (changed) => setValue('text', changed))
  const ties = data.items.length
  const submit = handleSubmit(async ({ because, isMinor: saysMinor, ...body }) => {
    const result = await write({
      key: data.key,
      ...body,
      ...(because.trim() && { because }),
      ...(saysMinor && heavy.length === 0 && { isMinor: true }),
    })
    if (!result.error) onDone()
  })
  return (
    <form onSubmit={(event) => void submit(event)}>
      <TextInput
        aria-label="Requirement title"
        maxLength={200}
        className="mb-1 font-serif text-[15px]"
        {...register('title', { required: true })}
      />
      <TextArea
        aria-label="Requirement text"
        rows={5}
        maxLength={20_000}
        className="font-serif text-[15px]"
        onPaste={pictures.onPaste}
        {...register('text')}
      />
      <p className="text-[12px] text-ink-2">Markdown: **bold**, lists, tables. A picture is pasted into the text.</p>
      <Refusal error={pictures.error} />
      <TextInput aria-label="Why it changes" placeholder="why it changes" maxLength={2000} className="mt-1" {...register('because')} />
      {ties > 0 && (
        <div className="my-1 text-[12px] text-ink-2">
          <label className="flex items-center gap-2">
            <input type="checkbox" disabled={heavy.length > 0} {...register('isMinor')} /> only its spelling changes: what is tied to it
            goes on to hold
          </label>
          {heavy.length > 0 && (
            <p className="text-ochre">
              {heavy.slice(0, 4).join(', ')}
              {heavy.length > 4 && ' …'} carries weight: whether the ties still hold will be asked.
            </p>
          )}
        </div>
      )}
      <p className="my-1 text-[12px] text-ink-2">
        This makes revision {data.revision + 1}
        {ties > 0 && !(isMinor && heavy.length === 0) && `; links made to revision ${data.revision} will ask to be re-checked`}.
      </p>
      <Refusal error={error} />
      <div className="flex gap-2">
        <Button look="main" type="submit" disabled={isLoading}>
          Save revision {data.revision + 1}
        </Button>
        <Button onClick={onDone}>Leave as it was</Button>
      </div>
    </form>
  )
}
