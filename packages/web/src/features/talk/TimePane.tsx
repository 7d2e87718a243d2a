import { type TimeGroup, TIME_GROUPS } from '@dystracer/core/talk/time-sums'
import { formatMinutes, parseDurationMinutes } from '@dystracer/core/text/duration'
import { useForm } from 'react-hook-form'
import { useState } from 'react'
import { useActMutation, useItemQuery } from '#features/items/items.api'
import { useTakeTimeBackMutation, useTimeQuery, useTimeSumsQuery } from './talk.api'
import { problemText } from '#shared/lib/problem-text'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { DateInput } from '#shared/ui/DateInput'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet, SectionHead } from '#shared/ui/parts'
import { apiRoot } from '#shared/lib/past'

/** Time of one item, or, without one, of everything by person, item, milestone or week. */
export function TimePane({ id }: { id: string }) {
  return id === '' ? <TimeSumsPane /> : <ItemTimePane itemKey={id} />
}

function ItemTimePane({ itemKey }: { itemKey: string }) {
  const { data: item } = useItemQuery(itemKey)
  const { data, error, isLoading } = useTimeQuery(itemKey)
  const people = usePeople()
  const trail = usePaneTrail()
  const [takeBack] = useTakeTimeBackMutation()
  const mine = people.me?.person?.personId
  return (
    <Pane label={`Time of ${itemKey}`} title={`Time of ${itemKey}`}>
      <Pending error={error} isLoading={isLoading} />
      {item && (
        <p className="border-b border-edge px-4 py-2">
          <b>{formatMinutes(item.spentMinutes)}</b> spent
          {item.estimateMinutes !== null && (
            <>
              {' '}
              of <b>{formatMinutes(item.estimateMinutes)}</b>, {formatMinutes(item.estimateMinutes - item.spentMinutes)} left
            </>
          )}
        </p>
      )}
      {people.may('time.book') && <BookTime itemKey={itemKey} />}
      {data?.rows.length === 0 && <Quiet>No time is booked yet. Commits with “Time: 30m” book it too.</Quiet>}
      <table className="w-full text-left">
        <tbody>
          {data?.rows.map((row) => (
            <tr key={row.entryId} className="border-b border-edge-soft">
              <td className="px-4 py-1">{row.on}</td>
              <td>{people.nameOf(row.personId)}</td>
              <td className="text-right font-bold">{formatMinutes(row.minutes)}</td>
              <td className="px-3 text-[12px] text-ink-2">{row.provenance}</td>
              <td className="pr-3 text-right">
                {(row.personId === mine || people.may('time.correct')) && (
                  <Button
                    look="text"
                    aria-label={`Take back ${formatMinutes(row.minutes)} of ${row.on}`}
                    onClick={() => void takeBack({ key: itemKey, entryId: row.entryId }).then(tellRefusal)}
                  >
                    take back
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="px-4 py-2">
        <Button look="text" onClick={() => trail.open({ kind: 'time', id: '' })}>
          Time of all items
        </Button>
      </p>
    </Pane>
  )
}

function BookTime({ itemKey }: { itemKey: string }) {
  const { register, handleSubmit, watch, setValue, setError, formState } = useForm({ defaultValues: { text: '', on: '' } })
  const [act, { isLoading }] = useActMutation()
  const submit = handleSubmit(async ({ text, on }) => {
    const minutes = parseDurationMinutes(text)
    if (minutes === null || minutes === 0) return setError('text', { message: 'Such as 1h 30m, 45m, or -20m to take some back' })
    const result = await act({ key: itemKey, act: 'time', body: { minutes, ...(on && { on }) } })
    if (result.error) return setError('text', { message: problemText(result.error) })
    setValue('text', '')
  })
  return (
    <form aria-label="Book time" className="flex items-end gap-2 border-b border-edge px-4 py-2" onSubmit={(event) => void submit(event)}>
      <Field label="Time" error={formState.errors.text?.message}>
        <TextInput placeholder="1h 30m" {...register('text')} />
      </Field>
      <Field label="On (today if empty)">
        <DateInput label="On (today if empty)" value={watch('on')} onDone={(day) => setValue('on', day)} />
      </Field>
      <Button type="submit" disabled={isLoading}>
        Book
      </Button>
    </form>
  )
}

function TimeSumsPane() {
  const [by, setBy] = useState<TimeGroup>('person')
  const [from, setFrom] = useState('')
  const [to, setTo] = useState('')
  const { data, error, isLoading } = useTimeSumsQuery({ by, ...(from && { from }), ...(to && { to }) })
  const people = usePeople()
  return (
    <Pane
      label="Time"
      title="Time"
      aside={
        <a
          className="link"
          href={`${apiRoot}/time.csv?${new URLSearchParams({ ...(from && { from }), ...(to && { to }) })}`}
          download="time.csv"
        >
          as CSV
        </a>
      }
    >
      <div className="grid grid-cols-3 gap-2 border-b border-edge px-4 py-2">
        <Field label="Add up by">
          <Choose
            value={by}
            onChange={(event) => setBy(event.target.value)}
            choices={TIME_GROUPS.map((value) => ({ value, label: value }))}
          />
        </Field>
        <Field label="From">
          <DateInput label="From" value={from} onDone={setFrom} />
        </Field>
        <Field label="To">
          <DateInput label="To" value={to} onDone={setTo} />
        </Field>
      </div>
      <Pending error={error} isLoading={isLoading} />
      {data && (
        <div className="px-4 py-2">
          <SectionHead>{formatMinutes(data.totalMinutes)} in all</SectionHead>
          <table className="w-full text-left">
            <tbody>
              {data.rows.map((row) => (
                <tr key={row.group} className="border-b border-edge-soft">
                  <td className="py-1">{by === 'person' ? people.nameOf(row.group) : row.group || 'none'}</td>
                  <td className="text-right font-bold">{formatMinutes(row.minutes)}</td>
                  <td className="pl-3 text-right text-ink-3">{row.bookings} ×</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Pane>
  )
}
