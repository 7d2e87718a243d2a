import type { Requirement } from '@dystracer/core/requirements/wire'
import { titleFrom } from '@dystracer/core/requirements/document-moves'
import { useRef, type KeyboardEvent } from 'react'
import { useForm } from 'react-hook-form'
import { usePeople } from '#features/people/index'
import {
  useBeginRequirementMutation,
  useJoinRequirementMutation,
  useSplitRequirementMutation,
  useWriteRequirementMutation,
} from '#features/requirements/requirements.api'
import { actionOf } from '#shared/lib/keys'
import { TextArea } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'

/** What is written in the document: a requirement anew, or one right behind another. */
export type Edited = { key: string; isNew: boolean }

/**
 * A sentence of the document, written in place. Ctrl+Enter keeps it; Alt+Enter makes two of it where the cursor stands, Alt+Backspace
 * joins it to the one before; Escape leaves it as it was.
 */
export function SentenceEditor({
  row,
  isNew,
  before,
  onDone,
}: {
  row: Requirement
  /** Whether a new one is written, right behind `row`. */
  isNew: boolean
  /** What stands before it on its level, and can be joined with. */
  before: Requirement | null
  /** With the key that has the keyboard next; `goesOn` while another sentence is to be written behind it. */
  onDone: (key: string, goesOn?: boolean) => void
}) {
  const project = usePeople().me?.project.prefix ?? ''
  const area = useRef<HTMLTextAreaElement | null>(null)
  const [write, writing] = useWriteRequirementMutation()
  const [begin, beginning] = useBeginRequirementMutation()
  const [split, splitting] = useSplitRequirementMutation()
  const [join, joining] = useJoinRequirementMutation()
  const isBusy = [writing, beginning, splitting, joining].some(({ isLoading }) => isLoading)
  const error = writing.error ?? beginning.error ?? splitting.error ?? joining.error
  const was = isNew ? '' : row.isHeading ? row.title : row.text || row.title
  const { register, handleSubmit, getValues, watch } = useForm({ defaultValues: { text: was } })
  const { ref, ...field } = register('text')
  const text = watch('text')
  const mayJoin = !isNew && !row.isHeading && before !== null && text === was
  const save = (goesOn: boolean) =>
    handleSubmit(async (values) => {
      const written = values.text.trim()
      if (written === '' || (written === was && !isNew)) return onDone(row.key, goesOn && !isNew)
      if (isNew) {
        const prefix = row.key.slice(0, row.key.indexOf('-'))
        const result = await begin({ project, prefix, title: titleFrom(written), text: written, after: row.key })
        if (!result.error) onDone(result.data.key, goesOn)
        return undefined
      }
      const content = row.isHeading ? { title: written, text: row.text } : { title: row.title, text: written }
      const result = await write({ key: row.key, ...content })
      if (!result.error) onDone(row.key, goesOn)
      return undefined
    })()
  const splitHere = async () => {
    const at = area.current?.selectionStart ?? 0
    const { text: whole } = getValues()
    const result = await split({ key: row.key, text: whole.slice(0, at).trim(), rest: whole.slice(at).trim(), revision: row.revision })
    if (!result.error) onDone(result.data.key)
  }
  const joinBefore = async () => {
    if (before === null) return
    const result = await join({ key: row.key, to: before.key, revision: row.revision, toRevision: before.revision })
    if (!result.error) onDone(before.key)
  }
  const onKeyDown = (event: KeyboardEvent) => {
    event.stopPropagation()
    const action = actionOf('sentence', event)
    if (action === null || isBusy) return
    if (action === 'split' && (isNew || row.isHeading)) return
    if (action === 'join' && !mayJoin) return
    event.preventDefault()
    if (action === 'keep') void save(false)
    else if (action === 'next') void save(true)
    else if (action === 'split') void splitHere()
    else if (action === 'join') void joinBefore()
    else onDone(row.key)
  }
  return (
    <form
      aria-label={isNew ? `New behind ${row.key}` : `Text of ${row.key}`}
      className="min-w-0 flex-1 py-1"
      onSubmit={(event) => {
        event.preventDefault()
        void save(false)
      }}
      onKeyDown={onKeyDown}
    >
      <TextArea
        aria-label={isNew ? 'A new requirement' : row.isHeading ? 'Heading' : 'Its text'}
        autoFocus
        rows={row.isHeading && !isNew ? 1 : Math.max(2, Math.ceil(text.length / 90))}
        maxLength={row.isHeading && !isNew ? 200 : 20_000}
        className="font-serif text-[15px] leading-[22px]"
        ref={(element) => {
          ref(element)
          area.current = element
        }}
        {...field}
      />
      <Refusal error={error} />
      <p className="mt-1 flex flex-wrap items-baseline gap-x-3 text-[12px]">
        <Button look="main" type="submit" disabled={isBusy || text.trim() === ''}>
          {isNew ? 'Write it' : `Save revision ${row.revision + 1}`}
        </Button>
        {!isNew && !row.isHeading && (
          <>
            <Button look="line" disabled={isBusy} onClick={() => void splitHere()}>
              split at the cursor
            </Button>
            <Button look="line" disabled={isBusy || !mayJoin} onClick={() => void joinBefore()}>
              join to {before?.key ?? 'the one before'}
            </Button>
          </>
        )}
        <Button look="line" onClick={() => onDone(row.key)}>
          {isNew ? 'not now' : 'leave it as it was'}
        </Button>
      </p>
    </form>
  )
}
