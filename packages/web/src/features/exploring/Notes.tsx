import { NOTE_SORTS, type ExplorationDetail, type ExplorationNote, type NoteSort } from '@dystracer/core/exploring/wire'
import type { KeyboardEvent } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { fieldProblem } from '#shared/lib/problem-text'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Markdown } from '#shared/ui/Markdown'
import { Button, Quiet, Refusal, SectionHead, When } from '#shared/ui/parts'
import { PictureText } from '#shared/ui/PictureText'
import { ThingLink } from '#shared/ui/ThingLink'
import { Ways } from '#shared/ui/Ways'
import { useNoteInExplorationMutation, useRemoveExplorationNoteMutation } from './exploring.api'

const LOOK: Record<NoteSort, string> = { seen: 'text-ink-2', question: 'text-ochre', idea: 'text-proof', trouble: 'font-bold text-fault' }

/** What was noted, and the form for the next. */
export function Notes({ data, canWrite }: { data: ExplorationDetail; canWrite: boolean }) {
  return (
    <section aria-label="Notes" className="border-t border-edge px-4 py-3">
      <SectionHead>Notes</SectionHead>
      {data.notes.length === 0 && !canWrite && <Quiet>Nothing was noted.</Quiet>}
      <ul aria-label="What was noted" className="m-0 list-none p-0">
        {data.notes.map((note) => (
          <li key={note.noteId} className="border-b border-edge-soft py-1">
            <Note data={data} note={note} canWrite={canWrite} />
          </li>
        ))}
      </ul>
      {canWrite && <NoteForm data={data} />}
    </section>
  )
}

function Note({ data, note, canWrite }: { data: ExplorationDetail; note: ExplorationNote; canWrite: boolean }) {
  const { me, nameOf } = usePeople()
  const [remove] = useRemoveExplorationNoteMutation()
  const { project, explorationId } = data
  const { noteId, sort, words, item, by, atMs } = note
  const isOwn = me?.person != null && by === `person:${me.person.personId}`
  return (
    <>
      <p className="m-0 flex flex-wrap items-baseline gap-x-2 text-[12px] text-ink-2">
        <span className={LOOK[sort]}>{sort}</span>
        <span>
          {nameOf(by)}, <When atMs={atMs} />
        </span>
        {item !== null && (
          <span>
            logged as <ThingLink to={{ kind: 'item', id: item }} />
          </span>
        )}
        {canWrite && isOwn && (
          <Button
            look="line"
            aria-label={`take it back: ${words.slice(0, 40)}`}
            onClick={() => void remove({ project, explorationId, noteId }).then(tellRefusal)}
          >
            take it back
          </Button>
        )}
      </p>
      <Markdown text={words} />
    </>
  )
}

function NoteForm({ data: { project, explorationId } }: { data: ExplorationDetail }) {
  const [send, { error, isLoading }] = useNoteInExplorationMutation()
  const { handleSubmit, setValue, watch, reset, register } = useForm({
    defaultValues: { sort: 'seen' as NoteSort, words: '', logsDefect: true },
  })
  const { sort, words } = watch()
  const submit = handleSubmit(async ({ logsDefect, ...note }) => {
    const result = await send({ project, explorationId, ...note, logsDefect: logsDefect && note.sort === 'trouble' })
    if (result.error) return
    const logged = result.data.notes.at(-1)?.item
    if (logged) toast.success(`${logged} is logged`)
    reset({ sort: note.sort, words: '', logsDefect })
  })
  const onKeyDown = (event: KeyboardEvent) => {
    event.stopPropagation()
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void submit()
  }
  const wrong = fieldProblem(error, 'words')
  return (
    <form aria-label="A note" className="mt-2 space-y-2" onSubmit={(event) => void submit(event)}>
      <p className="m-0 flex gap-3 text-[12px]">
        <Ways ways={NOTE_SORTS} current={sort} onChoose={(one) => setValue('sort', one)} />
      </p>
      <PictureText
        label="What you note (Markdown, Ctrl+Enter keeps it)"
        wrong={wrong}
        project={project}
        rows={3}
        maxLength={20_000}
        value={words}
        onText={(text) => setValue('words', text)}
        onKeyDown={onKeyDown}
      />
      {sort === 'trouble' && (
        <label className="flex items-center gap-2">
          <input type="checkbox" {...register('logsDefect')} /> log it as a defect
        </label>
      )}
      {!wrong && <Refusal error={error} />}
      <Button type="submit" disabled={isLoading || words.trim() === ''}>
        Note it
      </Button>
    </form>
  )
}
