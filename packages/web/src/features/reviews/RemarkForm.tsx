import { useState } from 'react'
import { TextArea } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'

/** A few words about a line: Ctrl+Enter takes them, Escape leaves. */
export function RemarkForm({
  label,
  deed,
  onWritten,
  onCancel,
}: {
  label: string
  deed: string
  onWritten: (text: string) => void
  onCancel: () => void
}) {
  const [text, setText] = useState('')
  const isEmpty = text.trim() === ''
  return (
    <form
      className="mx-4 my-1"
      onSubmit={(event) => {
        event.preventDefault()
        if (!isEmpty) onWritten(text.trim())
      }}
    >
      <TextArea
        autoFocus
        aria-label={label}
        rows={3}
        maxLength={20_000}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          // Keys of the pane around mean nothing while somebody writes.
          event.stopPropagation()
          if (event.key === 'Escape') onCancel()
          if (event.key === 'Enter' && (event.ctrlKey || event.metaKey) && !isEmpty) onWritten(text.trim())
        }}
      />
      <div className="mt-1 flex gap-3">
        <Button type="submit" disabled={isEmpty}>
          {deed}
        </Button>
        <Button look="line" onClick={onCancel}>
          Leave it
        </Button>
      </div>
    </form>
  )
}
