import { useForm } from 'react-hook-form'
import { useState } from 'react'
import { toast } from 'sonner'
import { useNoteQuery, useWriteNoteMutation } from './hand.api'
import { problemText } from '#shared/lib/problem-text'
import { TextArea } from '#shared/ui/fields'
import { Button, When } from '#shared/ui/parts'

/** My own note on an item. Nobody else sees it, in no history and no export. */
export function PrivateNote({ itemKey }: { itemKey: string }) {
  const { data } = useNoteQuery(itemKey)
  const [write, { isLoading }] = useWriteNoteMutation()
  const [isWriting, setIsWriting] = useState(false)
  const { register, handleSubmit, reset, formState } = useForm({ defaultValues: { text: '' } })
  const { isDirty } = formState
  if (!data) return null
  const save = handleSubmit(async ({ text }) => {
    const result = await write({ key: itemKey, text })
    if (result.error) return void toast.error(problemText(result.error))
    reset({ text })
    setIsWriting(false)
  })
  const begin = () => {
    // What was begun and put aside with Escape is still there.
    if (!isDirty) reset({ text: data.text })
    setIsWriting(true)
  }
  return (
    <section aria-label="My note" className="border-t border-edge px-4 py-2">
      {!isWriting ? (
        <div className="flex items-baseline gap-3">
          <Button look="line" className="shrink-0" onClick={begin}>
            {data.text === '' ? 'Write a note for yourself' : 'My note'}
          </Button>
          {data.text !== '' && <p className="min-w-0 flex-1 whitespace-pre-line">{data.text}</p>}
          {data.atMs !== null && (
            <span className="text-[12px] text-ink-3">
              <When atMs={data.atMs} />
            </span>
          )}
        </div>
      ) : (
        <form className="space-y-1" onSubmit={(event) => void save(event)}>
          <TextArea
            autoFocus
            aria-label="Note for yourself"
            rows={3}
            maxLength={20_000}
            {...register('text')}
            onKeyDown={(event) => {
              if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void save()
              if (event.key === 'Escape') setIsWriting(false)
            }}
          />
          <div className="flex items-center gap-3 text-[12px] text-ink-2">
            <Button type="submit" disabled={isLoading}>
              Keep the note
            </Button>
            Only you see it.
          </div>
        </form>
      )}
    </section>
  )
}
