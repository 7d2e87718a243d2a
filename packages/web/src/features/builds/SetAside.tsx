import type { TestRecord } from '@dystracer/core/builds/wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { fieldProblem, problemText } from '#shared/lib/problem-text'
import { DateInput } from '#shared/ui/DateInput'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useSetAsideMutation } from './builds.api'

type Test = Pick<TestRecord, 'repository' | 'suite' | 'name' | 'aside'>

/** Whether a test is set aside, until when and why; and setting it aside, or counting it again. */
export function SetAside({ test }: { test: Test }) {
  const { may, nameOf } = usePeople()
  const [isOpen, setIsOpen] = useState(false)
  const [set, { isLoading }] = useSetAsideMutation()
  const { repository, suite, name, aside } = test
  const countAgain = async () => {
    const result = await set({ repository, suite, name, until: null })
    if (result.error) toast.error(problemText(result.error))
    else toast.success('It counts again')
  }
  if (aside === null && !may('code.contribute')) return null
  return (
    <p>
      {aside && (
        <>
          <b className="text-ochre">Set aside</b> until {aside.until} by {nameOf(aside.by)}: {aside.why}. No merge waits for it.{' '}
        </>
      )}
      {may('code.contribute') &&
        (aside ? (
          <Button look="line" disabled={isLoading} onClick={() => void countAgain()}>
            Count it again
          </Button>
        ) : (
          <Button look="line" onClick={() => setIsOpen(true)}>
            Set it aside…
          </Button>
        ))}
      {isOpen && <AsideDialog test={test} onClose={() => setIsOpen(false)} />}
    </p>
  )
}

function AsideDialog({ test: { repository, suite, name }, onClose }: { test: Test; onClose: () => void }) {
  const [set, { error, isLoading }] = useSetAsideMutation()
  const { register, handleSubmit, watch, setValue } = useForm({ defaultValues: { until: '', why: '' } })
  const submit = handleSubmit(async ({ until, why }) => {
    const result = await set({ repository, suite, name, until, why })
    if (result.error) return
    toast.success(`Set aside until ${until}`)
    onClose()
  })
  const wrong = (field: 'until' | 'why') => fieldProblem(error, field)
  return (
    <Dialog title="Set the test aside" isOpen onClose={onClose}>
      <form aria-label="Set the test aside" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <p className="m-0 text-ink-2">
          It goes on running and is listed, but holds no merge up until the day is over. It proves nothing by that.
        </p>
        <Field label="Until" error={wrong('until')}>
          <DateInput label="Until" value={watch('until')} onDone={(day) => setValue('until', day)} />
        </Field>
        <Field label="Why it does not count" error={wrong('why')}>
          <TextInput autoFocus maxLength={500} placeholder="the mail server of the tests is slow on Mondays" {...register('why')} />
        </Field>
        {!wrong('until') && !wrong('why') && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading || watch('until') === '' || watch('why').trim() === ''}>
          Set it aside
        </Button>
      </form>
    </Dialog>
  )
}
