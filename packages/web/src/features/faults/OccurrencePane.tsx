import type { OccurrenceDetail } from '@dystracer/core/faults/wire'
import { useState } from 'react'
import { toast } from 'sonner'
import { fullDate, plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { TextInput } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { Copyable } from '#shared/ui/Copyable'
import { useOccurrenceQuery, usePlaceOccurrenceMutation } from './faults.api'
import { severityWord } from './state-words'
import { Trail } from './Trail'

/** One time that a fault happened, with everything as it was received; its id is `F-3/12`. */
export function OccurrencePane({ id }: { id: string }) {
  const [fault = '', occurrenceId = ''] = id.split('/')
  const { data, error, isLoading } = useOccurrenceQuery({ fault, occurrenceId })
  const trail = usePaneTrail()
  const step = (to: number | null) => to !== null && trail.become({ kind: 'occurrence', id: `${fault}/${to}` })
  return (
    <Pane
      label={`Occurrence of ${fault}`}
      title={data ? <>Occurrence of {data.fault}</> : `Occurrence of ${fault}`}
      aside={
        data && (
          <>
            <Button look="text" disabled={data.newerId === null} onClick={() => step(data.newerId)}>
              newer
            </Button>
            <Button look="text" disabled={data.olderId === null} onClick={() => step(data.olderId)}>
              older
            </Button>
          </>
        )
      }
    >
      <Pending error={error} isLoading={isLoading} />
      {data && <OccurrenceFacts one={data} />}
    </Pane>
  )
}

/** Event time and arrival differ by more than that where a clock is off or a sender was cut off. */
const LATE_MS = 5000
function OccurrenceFacts({ one }: { one: OccurrenceDetail }) {
  return (
    <>
      <div className="px-4 py-3">
        <p className="font-mono text-[13px] break-words">{one.message}</p>
        <p className="mt-1 text-ink-2">
          <b>{fullDate(one.atMs)}</b>
          {Math.abs(one.receivedAtMs - one.atMs) > LATE_MS && (
            <>
              , received <When atMs={one.receivedAtMs} />
            </>
          )}{' '}
          · {severityWord(one.severityNumber)} · {one.environment} ·{' '}
          {one.release ? (
            <ThingLink to={{ kind: 'release', id: `${String(one.resource['service.name'] ?? '')}@${one.release}` }}>
              {one.release}
            </ThingLink>
          ) : (
            'no release told'
          )}
          {one.traceId && <span className="font-mono text-[12px]"> · trace {one.traceId}</span>}
        </p>
      </div>
      {one.exceptions.map((exception, at) => (
        <Exception
          // biome-ignore lint/suspicious/noArrayIndexKey: a chain has no other order
          key={at}
          exception={exception}
          isFirst={at === 0}
          isDecisive={one.causes.findIndex((cause) => cause.isDecisive) === at && one.exceptions.length > 1}
        />
      ))}
      {one.traceId && <Trail fault={one.fault} occurrenceId={one.occurrenceId} atMs={one.atMs} />}
      <Belongs one={one} />
      <Values title="Attributes" values={one.attributes} leaveOut={['exception.stacktrace']} />
      <Values title="Resource" values={one.resource} leaveOut={[]} />
      <section className="border-t border-edge px-4 py-3">
        <SectionHead>The stack trace as received</SectionHead>
        <Copyable text={one.stacktrace || '(none was sent)'} label="Stack trace" />
      </section>
    </>
  )
}

function Exception({
  exception,
  isFirst,
  isDecisive,
}: {
  exception: OccurrenceDetail['exceptions'][number]
  isFirst: boolean
  isDecisive: boolean
}) {
  const [isOpen, setIsOpen] = useState(false)
  const foreign = exception.frames.filter((frame) => !frame.isApp).length
  const hasOwn = foreign < exception.frames.length
  return (
    <section aria-label={exception.type} className="border-t border-edge px-4 py-3">
      <h3 className="mb-1 font-mono text-[12px]">
        {!isFirst && <span className="text-ink-3">{exception.isSuppressed ? 'meanwhile ' : 'because of '}</span>}
        <b>{exception.type}</b>
        {exception.message && `: ${exception.message}`}
        {exception.thread && <span className="text-ink-3"> in {exception.thread}</span>}
        {isDecisive && <span className="ml-2 font-sans text-ink-2">decides</span>}
      </h3>
      <ol aria-label={`Frames of ${exception.type}`} className="m-0 list-none p-0 font-mono text-[12px]">
        {exception.frames.map((frame, at) =>
          frame.isApp || isOpen || !hasOwn ? (
            // biome-ignore lint/suspicious/noArrayIndexKey: a stack has no other order
            <li key={at} className={`px-2 py-0.5 break-all ${frame.isApp ? 'bg-paper' : 'text-ink-3'}`}>
              {frame.isAsync && 'async '}
              {frame.function ?? '(anonymous)'}{' '}
              <span className="text-ink-2">
                {frame.file}
                {frame.line !== null && `:${frame.line}`}
              </span>
              {frame.built && <span className="block pl-4 text-ink-3">built as {frame.built}</span>}
            </li>
          ) : null,
        )}
      </ol>
      {foreign > 0 && hasOwn && (
        <Button look="text" className="px-2! text-[12px]" onClick={() => setIsOpen(!isOpen)}>
          {isOpen ? 'fold' : `${plural(foreign, 'frame')} not ours, show`}
        </Button>
      )}
      {exception.hiddenFrames > 0 && (
        <p className="px-2 text-[12px] text-ink-3">{plural(exception.hiddenFrames, 'more frame')}, repeated or left out by the runtime</p>
      )}
    </section>
  )
}

/** An example of another fault: what fails at its line goes there from now on, and on request what is there. */
function Belongs({ one }: { one: OccurrenceDetail }) {
  const { may } = usePeople()
  const trail = usePaneTrail()
  const [place, { isLoading }] = usePlaceOccurrenceMutation()
  const [to, setTo] = useState('')
  const [includesEarlier, setIncludesEarlier] = useState(true)
  if (!may('faults.sort')) return null
  const isSound = to.trim() === '' || /^f-\d+$/i.test(to.trim())
  const save = async () => {
    const result = await place({
      fault: one.fault,
      occurrenceId: one.occurrenceId,
      to: to.trim() === '' ? null : to.trim().toUpperCase(),
      includesEarlier,
    })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(`What fails at that line is ${result.data.fault} from now on`)
    trail.become({ kind: 'fault', id: result.data.fault })
  }
  return (
    <form
      aria-label="Belongs to another fault"
      className="border-t border-edge px-4 py-3"
      onSubmit={(event) => {
        event.preventDefault()
        void save()
      }}
    >
      <SectionHead>Not {one.fault}?</SectionHead>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 text-ink-2">
        <span>
          What fails at this line belongs to{' '}
          <TextInput
            aria-label="The fault that it belongs to"
            placeholder="one of its own"
            className="w-[120px]! py-0.5!"
            value={to}
            onChange={(event) => setTo(event.target.value)}
          />
        </span>
        <label className="flex items-center gap-1.5">
          <input type="checkbox" checked={includesEarlier} onChange={(event) => setIncludesEarlier(event.target.checked)} />
          what is there goes along ({plural(one.alike, 'occurrence')} with this very trace)
        </label>
        <Button type="submit" className="py-0.5!" disabled={isLoading || !isSound}>
          From now on
        </Button>
      </div>
    </form>
  )
}

function Values({ title, values, leaveOut }: { title: string; values: Record<string, unknown>; leaveOut: readonly string[] }) {
  const rows = Object.entries(values).filter(([name]) => !leaveOut.includes(name))
  return (
    <section aria-label={title} className="border-t border-edge px-4 py-3">
      <SectionHead>{title}</SectionHead>
      {rows.length === 0 && <p className="text-ink-3">None.</p>}
      <table className="w-full text-left">
        <tbody>
          {rows.map(([name, value]) => (
            <tr key={name} className="border-b border-edge-soft align-top">
              <th scope="row" className="w-[200px] py-0.5 pr-3 font-mono text-[12px] font-normal text-ink-2">
                {name}
              </th>
              <td className="py-0.5 font-mono text-[12px] break-all">{typeof value === 'string' ? value : JSON.stringify(value)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}
