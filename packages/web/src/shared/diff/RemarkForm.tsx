import type { KeyboardEvent } from 'react'
import { useForm } from 'react-hook-form'
import { TextArea } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'
import { PictureText } from '#shared/ui/PictureText'

/** What somebody wrote about a line: words, and what should stand there instead, where they propose that. */
export interface Remarked {
  text: string
  instead: string | null
}

/** A few words about a line, and on request what it should be instead: Ctrl+Enter takes them, Escape leaves. */
export function RemarkForm({
  project,
  label,
  deed,
  lines,
  onWritten,
  onCancel,
}: {
  /** Whose members see the pictures in it. */
  project: string
  label: string
  deed: string
  /** The lines that it is about, where others may be proposed in their place. */
  lines?: string | undefined
  onWritten: (remark: Remarked) => void
  onCancel: () => void
}) {
  const { register, handleSubmit, watch, setValue } = useForm<Remarked>({ defaultValues: { text: '', instead: null } })
  const { text, instead } = watch()
  const isEmpty = text.trim() === '' && instead === null
  const write = handleSubmit((remark) => {
    if (!isEmpty) onWritten({ text: remark.text.trim(), instead: remark.instead })
  })
  const onKeyDown = (event: KeyboardEvent) => {
    // Keys of the pane around mean nothing while somebody writes.
    event.stopPropagation()
    if (event.key === 'Escape') onCancel()
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void write()
  }
  return (
    <form className="mx-4 my-1" onSubmit={(event) => void write(event)}>
      <PictureText
        autoFocus
        project={project}
        aria-label={label}
        rows={instead === null ? 3 : 2}
        maxLength={20_000}
        value={text}
        onText={(changed) => setValue('text', changed)}
        onKeyDown={onKeyDown}
      />
      {instead !== null && (
        <TextArea
          aria-label="What should stand there instead"
          rows={Math.min(12, instead.split('\n').length + 1)}
          maxLength={20_000}
          className="mt-1 bg-proof-soft! font-mono text-[12px]"
          {...register('instead')}
          onKeyDown={onKeyDown}
        />
      )}
      <div className="mt-1 flex gap-3">
        <Button type="submit" disabled={isEmpty}>
          {deed}
        </Button>
        {lines !== undefined && (
          <Button look="line" onClick={() => setValue('instead', instead === null ? lines : null)}>
            {instead === null ? 'Propose what it should be' : 'Propose nothing'}
          </Button>
        )}
        <Button look="line" onClick={onCancel}>
          Leave it
        </Button>
      </div>
    </form>
  )
}
