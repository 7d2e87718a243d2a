import { NOTE_READERS, type NoteReader } from '@dystracer/core/releases/write-notes'
import { useSearchParams } from 'react-router'
import { Markdown } from '#shared/ui/Markdown'
import { Button, Pending, When } from '#shared/ui/parts'
import { usePublishedNotesQuery } from './releases.api'

/** The published notes of a service, the newest release first: a page for whoever has the address, without an account. */
export function PublishedNotesPage({ service }: { service: string }) {
  const [params, setParams] = useSearchParams()
  const reader: NoteReader = NOTE_READERS.find((known) => known === params.get('reader')) ?? 'users'
  const { data, error, isLoading } = usePublishedNotesQuery({ service, reader })
  return (
    <main className="mx-auto my-[6vh] w-[min(720px,94vw)] rounded-[4px] border border-edge bg-sheet px-6 py-5">
      <h1 className="text-[17px] font-bold">Releases of {service}</h1>
      <Pending error={error} isLoading={isLoading} />
      {data && data.readers.length > 1 && (
        <p className="flex gap-3 text-[12px]">
          <span className="text-ink-2">for</span>
          {data.readers.map((known) => (
            <Button
              key={known}
              look="line"
              aria-pressed={known === reader}
              onClick={() => setParams(known === 'users' ? {} : { reader: known })}
            >
              {known}
            </Button>
          ))}
        </p>
      )}
      {data?.rows.length === 0 && <p className="text-ink-2">No notes for {reader} are published.</p>}
      {data?.rows.map(({ release, atMs, text, withdrawnWhy }) => (
        <article key={release} id={release} aria-label={`Release ${release}`} className="mt-5 border-t border-edge pt-3">
          <p className="text-[12px] text-ink-2">
            published <When atMs={atMs} />
          </p>
          {withdrawnWhy !== null && (
            <p className="bg-ochre-soft px-2 py-1.5">
              <b>Withdrawn</b>: {withdrawnWhy}
            </p>
          )}
          <div className="font-serif text-[15px]">
            <Markdown text={text} />
          </div>
        </article>
      ))}
    </main>
  )
}
