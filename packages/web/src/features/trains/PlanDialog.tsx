import type { TrainDetail } from '@dystracer/core/trains/wire'
import { useFieldArray, useForm } from 'react-hook-form'
import { useReleasesQuery } from '#features/releases/releases.api'
import { fieldProblem } from '#shared/lib/problem-text'
import { toChoices } from '#shared/lib/choices'
import { usePaneTrail } from '#shared/lib/use-trail'
import { DateInput } from '#shared/ui/DateInput'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button, Pending, Refusal } from '#shared/ui/parts'
import { useChangeTrainMutation, usePlanTrainMutation } from './trains.api'

interface Draft {
  name: string
  words: string
  leavesOn: string
  waitsFor: string
  makes: boolean
  cars: { service: string; release: string }[]
}

/** Plans a train, or changes what one is to be: which services, in which order, with which release, and what is waited for. */
export function PlanDialog({ project, train, onClose }: { project: string; train: TrainDetail | null; onClose: () => void }) {
  const { data, error, isLoading } = useReleasesQuery()
  const services = data?.services.map(({ service, releases }) => ({ service, releases: releases.map(({ release }) => release) }))
  return (
    <Dialog title={train ? 'Change the train' : 'Plan a train'} isOpen onClose={onClose}>
      <Pending error={error} isLoading={isLoading} />
      {services?.length === 0 && (
        <p className="px-4 py-4 text-ink-2">
          No service is set up yet: under Settings, Builds & environments, or by a tag in a connected repository.
        </p>
      )}
      {services && services.length > 0 && <PlanForm project={project} train={train} services={services} onClose={onClose} />}
    </Dialog>
  )
}

function PlanForm({
  project,
  train,
  services,
  onClose,
}: {
  project: string
  train: TrainDetail | null
  services: { service: string; releases: string[] }[]
  onClose: () => void
}) {
  const trail = usePaneTrail()
  const [plan, planning] = usePlanTrainMutation()
  const [change, changing] = useChangeTrainMutation()
  const error = planning.error ?? changing.error
  const { register, control, handleSubmit, watch, setValue } = useForm<Draft>({
    defaultValues: {
      name: train?.name ?? '',
      words: train?.words ?? '',
      leavesOn: train?.leavesOn ?? '',
      waitsFor: train?.waitsFor ?? '',
      makes: train?.makes ?? false,
      cars: train
        ? train.cars.map(({ service, release }) => ({ service, release: release ?? '' }))
        : services.slice(0, 2).map(({ service }) => ({ service, release: '' })),
    },
  })
  const { fields, append, remove, move } = useFieldArray({ control, name: 'cars' })
  const cars = watch('cars')
  const left = services.filter(({ service }) => !cars.some((car) => car.service === service))
  const submit = handleSubmit(async ({ leavesOn, ...values }) => {
    const body = {
      ...values,
      leavesOn: leavesOn || null,
      cars: values.cars.map(({ service, release }) => ({ service, release: release || null })),
    }
    const result = train ? await change({ project, trainId: train.trainId, ...body }) : await plan({ project, ...body })
    if (result.error) return
    onClose()
    if (!train) trail.open({ kind: 'train', id: `${project}/${result.data.trainId}` })
  })
  const wrong = (field: string) => fieldProblem(error, field)
  return (
    <form aria-label="Train" className="max-h-[72vh] space-y-3 overflow-y-auto px-4 py-3" onSubmit={(event) => void submit(event)}>
      <Field label="Its name" error={wrong('name')} isNeeded>
        <TextInput autoFocus maxLength={80} placeholder="such as October" {...register('name', { required: true })} />
      </Field>
      <fieldset className="m-0 border-0 p-0">
        <legend className="text-[12px] text-ink-2">What goes out, in this order</legend>
        <ol className="m-0 list-none p-0">
          {fields.map((field, at) => (
            <li key={field.id} className="flex items-center gap-2 py-0.5">
              <span className="w-[170px] truncate">{field.service}</span>
              <Choose
                {...register(`cars.${at}.release`)}
                aria-label={`Release of ${field.service}`}
                none="to be made"
                choices={toChoices(services.find(({ service }) => service === field.service)?.releases ?? [])}
              />
              <Button look="text" disabled={at === 0} aria-label={`${field.service} earlier`} onClick={() => move(at, at - 1)}>
                ↑
              </Button>
              <Button
                look="text"
                className="shrink-0 whitespace-nowrap"
                aria-label={`take out ${field.service}`}
                onClick={() => remove(at)}
              >
                take out
              </Button>
            </li>
          ))}
        </ol>
        {left.map(({ service }) => (
          <Button key={service} look="line" className="mr-3" onClick={() => append({ service, release: '' })}>
            with {service}
          </Button>
        ))}
        {wrong('cars') && (
          <span role="alert" className="block text-[12px] text-fault">
            {wrong('cars')}
          </span>
        )}
      </fieldset>
      <Field label="Waits until all of these are merged" error={wrong('waitsFor')}>
        <TextInput
          maxLength={1000}
          placeholder="a filter of items, such as milestone=4.2 or own.step<=2"
          className="font-mono"
          {...register('waitsFor')}
        />
      </Field>
      <label className="flex min-h-6 items-center gap-2">
        <input type="checkbox" {...register('makes')} /> then make the releases that are missing by itself
      </label>
      <p className="text-[12px] text-ink-2">Leaves on</p>
      <DateInput label="Leaves on" value={watch('leavesOn')} onDone={(day) => setValue('leavesOn', day)} />
      <Field label="What to know of it">
        <TextArea rows={2} maxLength={4000} {...register('words')} />
      </Field>
      {!['name', 'cars', 'waitsFor', 'leavesOn'].some(wrong) && <Refusal error={error} />}
      <Button look="main" type="submit" disabled={planning.isLoading || changing.isLoading || cars.length === 0}>
        {train ? 'Keep it' : 'Plan it'}
      </Button>
    </form>
  )
}
