import { readInstead, writeInstead } from '@dystracer/core/reviews/instead'
import { useForm } from 'react-hook-form'
import { TextArea } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'

/** A few words about a line: Ctrl+Enter takes them, Escape leaves. */
export function RemarkForm({
  label,
  deed,
  line,
  onWritten,
  onCancel,
}: {
  label: string
  deed: string
  /** The line that it is about, where another may be proposed in its place. */
  line?: string | undefined
  onWritten: (text: string) => void
  onCancel: () => void
}) {
  const { register, handleSubmit, watch, setValue } = useForm({ defaultValues: { text: '' } })
  const isEmpty = watch('text').trim() === ''
  const write = handleSubmit(({ text }) => {
    if (text.trim() !== '') onWritten(text.trim())
  })
  return (
    <form className="mx-4 my-1" onSubmit={(event) => void write(event)}>
      <TextArea
        autoFocus
        aria-label={label}
        rows={3}
        maxLength={20_000}
        {...register('text')}
        onKeyDown={(event) => {
          // Keys of the pane around mean nothing while somebody writes.
          event.stopPropagation()
          if (event.key === 'Escape') onCancel()
          if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void write()
        }}
      />
      <div className="mt-1 flex gap-3">
        <Button type="submit" disabled={isEmpty}>
          {deed}
        </Button>
        {line !== undefined && readInstead(watch('text')) === null && (
          <Button look="line" onClick={() => setValue('text', writeInstead(watch('text').trim(), line))}>
            Propose what it should be
          </Button>
        )}
        <Button look="line" onClick={onCancel}>
          Leave it
        </Button>
      </div>
    </form>
  )
}
