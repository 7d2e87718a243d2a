import type { PlaceGate } from '@dystracer/core/places/gates'
import { useForm, type UseFormRegister } from 'react-hook-form'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { fieldProblem } from '#shared/lib/problem-text'
import { DateInput } from '#shared/ui/DateInput'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { DAY_CHOICES, KIND_WORDS } from './gate-words'
import { useSetPlaceGatesMutation } from './places.api'

interface Draft {
  kind: PlaceGate['kind']
  hours: number
  units: number
  atLeast: number
  people: number
  among: string[]
  days: string[]
  from: string
  to: string
  fromDay: string
  toDay: string
  why: string
  words: string
}
const KINDS = Object.keys(KIND_WORDS) as PlaceGate['kind'][]

/** One more gate before a place: what it asks for, and how much of it. */
export function GateDialog({ environment, gates, onClose }: { environment: string; gates: readonly PlaceGate[]; onClose: () => void }) {
  const [set, { error, isLoading }] = useSetPlaceGatesMutation()
  const { register, handleSubmit, watch, setValue } = useForm<Draft>({
    defaultValues: {
      kind: KINDS.find((kind) => !gates.some((gate) => gate.kind === kind)) ?? 'check',
      hours: 24,
      units: 0,
      atLeast: 1,
      people: 2,
      among: [],
      days: ['1', '2', '3', '4'],
      from: '09:00',
      to: '16:00',
      fromDay: '',
      toDay: '',
      why: '',
      words: '',
    },
  })
  const kind = watch('kind')
  const submit = handleSubmit(async (draft) => {
    const result = await set({ environment, gates: [...gates, gateOf(draft)] })
    if (result.error) return
    toast.success(`One gate more before ${environment}`)
    onClose()
  })
  const wrong = fieldProblem(error, 'gates')
  return (
    <Dialog title={`Another gate before ${environment}`} isOpen onClose={onClose}>
      <form aria-label="Gate" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="A release comes there once" error={wrong}>
          <Choose autoFocus {...register('kind')} choices={KINDS.map((value) => ({ value, label: KIND_WORDS[value] }))} />
        </Field>
        <GateFields kind={kind} register={register} />
        {kind === 'freeze' && (
          <div className="flex gap-3">
            <DateInput label="First day of the freeze" value={watch('fromDay')} onDone={(day) => setValue('fromDay', day)} />
            <DateInput label="Last day of the freeze" value={watch('toDay')} onDone={(day) => setValue('toDay', day)} />
          </div>
        )}
        {!wrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          Set the gate
        </Button>
      </form>
    </Dialog>
  )
}

function GateFields({ kind, register }: { kind: PlaceGate['kind']; register: UseFormRegister<Draft> }) {
  const { me } = usePeople()
  switch (kind) {
    case 'soak':
      return (
        <div className="flex gap-3">
          <Field label="Hours">
            <TextInput type="number" min={0} max={10_000} {...register('hours', { valueAsNumber: true })} />
          </Field>
          <Field label="Pieces of work at least">
            <TextInput type="number" min={0} {...register('units', { valueAsNumber: true })} />
          </Field>
        </div>
      )
    case 'severity':
      return (
        <Field label="Of severity 1, or down to">
          <TextInput type="number" min={1} max={5} {...register('atLeast', { valueAsNumber: true })} />
        </Field>
      )
    case 'agreed':
      return (
        <>
          <Field label="How many">
            <TextInput type="number" min={1} max={20} {...register('people', { valueAsNumber: true })} />
          </Field>
          <Ticks
            legend="Of these alone; of all who may approve where none is chosen"
            choices={(me?.people ?? []).map(({ personId, name }) => ({ value: personId, label: name }))}
            register={register('among')}
          />
        </>
      )
    case 'window':
      return (
        <>
          <Ticks legend="On" choices={DAY_CHOICES} register={register('days')} />
          <div className="flex gap-3">
            <Field label="From">
              <TextInput type="time" {...register('from')} />
            </Field>
            <Field label="To">
              <TextInput type="time" {...register('to')} />
            </Field>
          </div>
          <p className="text-[12px] text-ink-2">By the clocks of {zoneHere()}.</p>
        </>
      )
    case 'freeze':
      return (
        <Field label="Why">
          <TextInput maxLength={200} {...register('why')} />
        </Field>
      )
    case 'check':
      return (
        <Field label="What is looked at">
          <TextInput maxLength={200} placeholder="such as: the limiter opens at 1300 °C" {...register('words')} />
        </Field>
      )
    case 'build':
      return null
  }
}

function Ticks({
  legend,
  choices,
  register,
}: {
  legend: string
  choices: readonly { value: string | number; label: string }[]
  register: ReturnType<UseFormRegister<Draft>>
}) {
  return (
    <fieldset className="m-0 border-0 p-0">
      <legend className="text-[12px] text-ink-2">{legend}</legend>
      <div className="flex flex-wrap gap-x-4">
        {choices.map(({ value, label }) => (
          <label key={value} className="flex min-h-6 items-center gap-1">
            <input type="checkbox" value={value} {...register} /> {label}
          </label>
        ))}
      </div>
    </fieldset>
  )
}

/** The time zone of whoever sits here. */
const zoneHere = () => Intl.DateTimeFormat().resolvedOptions().timeZone

/** The gate that a draft stands for; times are those of whoever sets it. */
function gateOf(draft: Draft): PlaceGate {
  const timeZone = zoneHere()
  switch (draft.kind) {
    case 'soak':
      return { kind: 'soak', hours: draft.hours, units: draft.units }
    case 'build':
      return { kind: 'build' }
    case 'severity':
      return { kind: 'severity', atLeast: draft.atLeast }
    case 'agreed':
      return { kind: 'agreed', people: draft.people, among: [...draft.among].filter(Boolean) }
    case 'window':
      return { kind: 'window', days: draft.days.map(Number).sort(), from: draft.from, to: draft.to, timeZone }
    case 'freeze':
      return { kind: 'freeze', from: draft.fromDay, to: draft.toDay, why: draft.why, timeZone }
    case 'check':
      return { kind: 'check', words: draft.words }
  }
}
