import type { Fault } from '@dystracer/core/faults/wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { useSearchQuery } from '#features/desk/desk.api'
import { useLookAlikesQuery } from '#features/items/items.api'
import { whyAlike } from '@dystracer/core/likeness/why-alike'
import { usePeople } from '#features/people/index'
import { useDelayed } from '#shared/lib/use-delayed'
import { plural } from '#shared/lib/format'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'
import { useFaultActs } from './use-fault-acts'

interface DialogProps {
  faults: readonly string[]
  onClose: () => void
}

function named(faults: readonly string[]): string {
  return faults.length === 1 ? (faults[0] ?? '') : plural(faults.length, 'fault')
}

/** Ties faults to an open item: those that look like the first stand there at once, any other is found by key or words. */
export function TieFaultDialog({ faults, like, onClose }: DialogProps & { like: Pick<Fault, 'type' | 'message' | 'place'> }) {
  const { me } = usePeople()
  const { act, isBusy } = useFaultActs()
  const [text, setText] = useState('')
  const asked = useDelayed(text, 200)
  const { data: found } = useSearchQuery(asked, { skip: asked.trim() === '' })
  const project = me?.project.prefix ?? ''
  const title = `${like.type} ${like.place?.split('@')[0] ?? ''}`.slice(0, 200)
  const { data: alike } = useLookAlikesQuery({ title, text: like.message.slice(0, 1000), project }, { skip: project === '' })
  const rows =
    asked.trim() === ''
      ? (alike?.rows ?? []).map(({ item, ...why }) => ({
          key: item.key,
          title: item.title,
          why: whyAlike(why),
        }))
      : (found?.hits ?? []).flatMap(({ ref, title: name }) => (ref.kind === 'item' ? [{ key: ref.id, title: name, why: '' }] : []))
  const tie = (key: string) => void act(faults, { act: 'tie', key }).then((isDone) => isDone && onClose())
  return (
    <Dialog title={`Tie ${named(faults)} to an item`} isOpen onClose={onClose}>
      <div className="space-y-2 px-4 py-3">
        <Field label="Key or words">
          <TextInput autoFocus value={text} onChange={(event) => setText(event.target.value)} />
        </Field>
        <p className="text-[12px] text-ink-2">{asked.trim() === '' ? 'Items that look like it' : 'Found'}</p>
        <ul aria-label="Items" className="m-0 max-h-[260px] list-none overflow-y-auto p-0">
          {rows.map(({ key, title: name, why }) => (
            <li key={key} className="border-b border-edge-soft">
              <button type="button" disabled={isBusy} className="w-full px-1 py-1 text-left hover:bg-mark" onClick={() => tie(key)}>
                <span className="mr-2 font-mono text-[12px]">{key}</span>
                {name}
                {why && <span className="block text-[12px] text-ink-2">{why}</span>}
              </button>
            </li>
          ))}
        </ul>
        {rows.length === 0 && (
          <p className="text-ink-3">{asked.trim() === '' ? 'None does. Find one by its key or its words.' : 'No item is called that.'}</p>
        )}
      </div>
    </Dialog>
  )
}

const MINUTES = { hour: 60, day: 1440, week: 7 * 1440, month: 30 * 1440 } as const
const SPANS = [
  { value: '', label: 'no end' },
  { value: 'hour', label: 'an hour' },
  { value: 'day', label: 'a day' },
  { value: 'week', label: 'a week' },
  { value: 'month', label: 'thirty days' },
] as const

/** Silences faults: out of the list, and no rule logs them, until what is said here. */
export function SilenceDialog({ faults, onClose }: DialogProps) {
  const { act, isBusy } = useFaultActs()
  const { register, handleSubmit } = useForm({
    defaultValues: { span: '' as '' | keyof typeof MINUTES, times: '', release: '', spike: false, reason: '' },
  })
  const submit = handleSubmit(async ({ span, times, release, spike, reason }) => {
    const isDone = await act(faults, {
      act: 'silence',
      forMinutes: span === '' ? null : MINUTES[span],
      moreTimes: times === '' ? null : Number(times),
      release: release.trim() || null,
      untilSpike: spike,
      reason,
    })
    if (isDone) onClose()
  })
  return (
    <Dialog title={`Silence ${named(faults)}`} isOpen onClose={onClose}>
      <form aria-label="Silence" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <p className="text-ink-2">It is still received and counted. Whatever of this comes first ends it:</p>
        <div className="grid grid-cols-2 gap-3">
          <Field label="After">
            <Choose autoFocus {...register('span')} choices={SPANS} />
          </Field>
          <Field label="Once it occurred so many times more">
            <TextInput type="number" min={1} max={10_000_000} {...register('times')} />
          </Field>
          <Field label="Once this release, or a later one, has it">
            <TextInput placeholder="4.2.1" maxLength={100} {...register('release')} />
          </Field>
          <label className="flex items-center gap-2 self-end pb-1.5">
            <input type="checkbox" {...register('spike')} /> once it spikes
          </label>
        </div>
        <Field label="Why">
          <TextInput maxLength={500} {...register('reason')} />
        </Field>
        <Button look="main" type="submit" disabled={isBusy}>
          Silence
        </Button>
      </form>
    </Dialog>
  )
}

/** Says of faults that they are fixed in a release, or not ours to mend. */
export function JudgeDialog({ faults, kind, onClose }: DialogProps & { kind: 'fixed' | 'not-ours' }) {
  const { act, isBusy } = useFaultActs()
  const { register, handleSubmit } = useForm({ defaultValues: { release: '', reason: '' } })
  const isFixed = kind === 'fixed'
  const submit = handleSubmit(async ({ release, reason }) => {
    const isDone = await act(faults, isFixed ? { act: 'fixed', release, reason } : { act: 'not-ours', reason })
    if (isDone) onClose()
  })
  const title = isFixed ? `${named(faults)}: fixed in a release` : `${named(faults)}: not ours`
  return (
    <Dialog title={title} isOpen onClose={onClose}>
      <form aria-label={title} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <p className="text-ink-2">
          {isFixed
            ? 'Should that release, or a later one, still have it, it has come back.'
            : 'It leaves the list, and no rule logs it. What comes of it is still counted.'}
        </p>
        {isFixed && (
          <Field label="Release" isNeeded>
            <TextInput
              autoFocus
              placeholder="4.2.1"
              maxLength={100}
              pattern="[A-Za-z0-9_.+\-]{1,100}"
              {...register('release', { required: true })}
            />
          </Field>
        )}
        <Field label="Why" isNeeded={!isFixed}>
          <TextArea autoFocus={!isFixed} rows={2} maxLength={500} {...register('reason', { required: !isFixed })} />
        </Field>
        <Button look="main" type="submit" disabled={isBusy}>
          {isFixed ? 'It is fixed there' : 'It is not ours'}
        </Button>
      </form>
    </Dialog>
  )
}
