import type { ReleaseNotes } from '@dystracer/core/releases/contents-wire'
import { NOTE_READERS, type NoteReader } from '@dystracer/core/releases/write-notes'
import { useForm } from 'react-hook-form'
import { useState } from 'react'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { problemText } from '#shared/lib/problem-text'
import { TextArea } from '#shared/ui/fields'
import { Markdown } from '#shared/ui/Markdown'
import { Button, Pending, SectionHead } from '#shared/ui/parts'
import { NotesPublication } from './NotesPublication'
import { useReleaseNotesQuery, useWriteReleaseNoteMutation } from './releases.api'
import { apiRoot } from '#shared/lib/past'

type Line = ReleaseNotes['groups'][number]['lines'][number]

/** What is said of a release to its readers; each line can be written anew, and stays so. */
export function ReleaseNotesPart({ release, service }: { release: string; service: string }) {
  const { may } = usePeople()
  const [reader, setReader] = useState<NoteReader>('users')
  const { data, error, isLoading } = useReleaseNotesQuery({ release, reader })
  const canWrite = may('releases.deploy')
  return (
    <section aria-label="Notes" className="border-t border-edge px-4 py-3">
      <div className="flex flex-wrap items-baseline gap-3">
        <SectionHead>Notes for</SectionHead>
        {NOTE_READERS.map((one) => (
          <Button
            key={one}
            look="line"
            aria-pressed={one === reader}
            className={one === reader ? 'font-bold no-underline!' : ''}
            onClick={() => setReader(one)}
          >
            {one}
          </Button>
        ))}
        <a
          className="link ml-auto inline-block min-h-6 text-[12px] leading-6"
          href={`${apiRoot}/releases/${encodeURIComponent(release)}/notes.md?reader=${reader}`}
          download={`${release} ${reader}.md`}
        >
          as Markdown
        </a>
        <a
          className="link inline-block min-h-6 text-[12px] leading-6"
          href={`${apiRoot}/releases/${encodeURIComponent(release)}/record.zip`}
          download
          title="JSON, CSV and a page, signed; dystracer verify --bundle FILE checks it anywhere"
        >
          its record for an audit
        </a>
      </div>
      <Pending error={error} isLoading={isLoading} />
      {data && (
        <>
          <Written
            key={reader}
            release={release}
            reader={reader}
            noteKey={null}
            text={data.intro}
            isWritten={data.intro !== ''}
            canWrite={canWrite}
          />
          {data.groups.map(({ title, lines }) => (
            <div key={title} className="mt-2">
              <h4 className="font-bold">{title}</h4>
              <ul className="m-0 list-none p-0 font-serif text-[15px]">
                {lines.map((line, at) => (
                  <li key={`${reader}${line.key ?? at}`} className="py-0.5">
                    <NoteText line={line} release={release} reader={reader} canWrite={canWrite} />
                  </li>
                ))}
              </ul>
            </div>
          ))}
          {data.groups.length === 0 && <p className="text-ink-2">Nothing in it concerns them.</p>}
          <NotesPublication release={release} service={service} reader={reader} />
        </>
      )}
    </section>
  )
}

function NoteText({ line, release, reader, canWrite }: { line: Line; release: string; reader: NoteReader; canWrite: boolean }) {
  if (line.key === null) return <>{line.text}</>
  return <Written release={release} reader={reader} noteKey={line.key} text={line.text} isWritten={line.isWritten} canWrite={canWrite} />
}

/** One text of the notes: shown, or being written. */
function Written({
  release,
  reader,
  noteKey,
  text,
  isWritten,
  canWrite,
}: {
  release: string
  reader: NoteReader
  /** The item that it is about; null for the words at the beginning. */
  noteKey: string | null
  text: string
  isWritten: boolean
  canWrite: boolean
}) {
  const [isWriting, setIsWriting] = useState(false)
  const { register, handleSubmit, reset } = useForm({ defaultValues: { words: text } })
  const [write, { isLoading }] = useWriteReleaseNoteMutation()
  const about = noteKey ?? 'the beginning'
  const save = async (words: string) => {
    const result = await write({ release, reader, key: noteKey, text: words })
    if (result.error) return void toast.error(problemText(result.error))
    setIsWriting(false)
  }
  if (isWriting)
    return (
      <form className="my-1 font-sans text-[13px]" onSubmit={(event) => void handleSubmit(({ words }) => save(words.trim()))(event)}>
        <TextArea
          autoFocus
          rows={2}
          maxLength={4000}
          aria-label={`Words about ${about}`}
          {...register('words')}
          onKeyDown={(event) => event.key === 'Escape' && setIsWriting(false)}
        />
        <Button type="submit" disabled={isLoading}>
          Keep the words
        </Button>{' '}
        <Button look="text" onClick={() => setIsWriting(false)}>
          Leave it
        </Button>
      </form>
    )
  return (
    <div className="flex items-baseline gap-3 py-1">
      <div className="min-w-0 flex-1">{isWritten ? <Markdown text={text} /> : text}</div>
      {canWrite && (
        <span className="shrink-0 font-sans text-[12px]">
          <Button
            look="line"
            aria-label={`${noteKey === null && text === '' ? 'Write a beginning' : `Edit ${about}`}`}
            onClick={() => {
              reset({ words: text })
              setIsWriting(true)
            }}
          >
            {noteKey === null && text === '' ? 'write a beginning' : 'edit'}
          </Button>
          {isWritten && (
            <Button
              look="line"
              className="ml-2"
              disabled={isLoading}
              aria-label={`Let ${about} stand as it was`}
              onClick={() => void save('')}
            >
              as it was
            </Button>
          )}
        </span>
      )}
    </div>
  )
}
