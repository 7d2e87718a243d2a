import type { NamedMoment } from '@dystracer/core/past/wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { fullDate, shortDate } from '#shared/lib/format'
import { addressAt } from '#shared/lib/past'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Pending, SectionHead } from '#shared/ui/parts'
import { useMomentsQuery } from './past.api'

const SHOWN = 40
const KIND_WORDS: Record<NamedMoment['kind'], string> = {
  release: 'release',
  baseline: 'baseline',
  incident: 'incident',
}

/** A moment to look back to: a day and a time, or a release, a baseline or the beginning of an incident. The same page opens as of then. */
export function LookBackDialog({ onClose }: { onClose: () => void }) {
  const { data, error, isLoading } = useMomentsQuery()
  return (
    <Dialog title="Look back to…" isOpen onClose={onClose}>
      <div className="space-y-3 px-4 py-3">
        <p className="text-ink-2">
          Every list, thread, matrix and figure is shown as it was known here then. Only you see this; links to it can be passed on.
        </p>
        <Day firstAtMs={data?.firstAtMs ?? null} />
        <Pending error={error} isLoading={isLoading} />
        {data && data.rows.length > 0 && <Named rows={data.rows} />}
      </div>
    </Dialog>
  )
}

function Day({ firstAtMs }: { firstAtMs: number | null }) {
  const [wrong, setWrong] = useState<string | undefined>(undefined)
  const { register, handleSubmit } = useForm({ defaultValues: { day: '', time: '18:00' } })
  const submit = handleSubmit(({ day, time }) => {
    const atMs = Date.parse(`${day}T${time || '18:00'}`)
    if (Number.isNaN(atMs)) setWrong('Choose a day')
    else if (atMs > Date.now()) setWrong('That is not past yet')
    else if (firstAtMs !== null && atMs < firstAtMs) setWrong(`Nothing was known here before ${fullDate(firstAtMs)}`)
    else window.location.assign(addressAt(atMs))
  })
  return (
    <form aria-label="A day" className="flex flex-wrap items-end gap-3" onSubmit={(event) => void submit(event)}>
      <Field label="Day" error={wrong}>
        <TextInput type="date" autoFocus className="w-[160px]!" {...register('day')} />
      </Field>
      <Field label="Time">
        <TextInput type="time" className="w-[110px]!" {...register('time')} />
      </Field>
      <Button look="main" type="submit">
        Look back
      </Button>
    </form>
  )
}

function Named({ rows }: { rows: readonly NamedMoment[] }) {
  const [text, setText] = useState('')
  const sought = text.trim().toLowerCase()
  const fitting = rows.filter(({ kind, name }) => `${kind} ${name}`.toLowerCase().includes(sought))
  return (
    <section aria-label="Or to">
      <SectionHead>Or to when this became known</SectionHead>
      <TextInput
        aria-label="Find a release, a baseline or an incident"
        placeholder="find a release, a baseline or an incident"
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <ul className="m-0 mt-1 max-h-[38vh] list-none overflow-y-auto p-0">
        {fitting.slice(0, SHOWN).map(({ kind, name, atMs }) => (
          <li key={`${kind} ${name}`} className="flex items-baseline gap-3 border-b border-edge-soft py-1 last:border-0">
            <span className="w-[64px] shrink-0 text-[12px] text-ink-3">{KIND_WORDS[kind]}</span>
            {/* The second in which it became known is over by then. */}
            <a className="link min-w-0 flex-1 truncate" href={addressAt(atMs + 1000)}>
              {name}
            </a>
            <span className="shrink-0 text-[12px] text-ink-2">{shortDate(atMs)}</span>
          </li>
        ))}
      </ul>
      {fitting.length > SHOWN && <p className="text-[12px] text-ink-2">The newest {SHOWN} are listed; type to find an older one.</p>}
    </section>
  )
}
