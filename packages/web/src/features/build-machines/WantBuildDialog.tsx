import { useForm } from 'react-hook-form'
import { toChoices } from '#shared/lib/choices'
import { fieldProblem } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useWantBuildMutation, useWantedBuilds } from './build-machines.api'
import { useConnected } from './use-connected'
import { isAskedFor } from './wanted-words'

/** Wants a build of a branch. */
export function WantBuildDialog({ onClose }: { onClose: () => void }) {
  const repositories = useConnected()
  const { data } = useWantedBuilds()
  const [want, { error, isLoading }] = useWantBuildMutation()
  const first = repositories[0]?.name ?? ''
  const { register, handleSubmit, watch, setValue } = useForm({ values: { repository: first, branch: repositories[0]?.mainBranch ?? '' } })
  const repository = watch('repository')
  const submit = handleSubmit(async (input) => {
    const result = await want(input)
    if (!result.error) onClose()
  })
  return (
    <Dialog title="Build a branch" isOpen onClose={onClose}>
      <form aria-label="Build a branch" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="Repository">
          <Choose
            choices={toChoices(repositories.map(({ name }) => name))}
            {...register('repository')}
            value={repository}
            onChange={({ target }) => {
              setValue('repository', target.value)
              setValue('branch', repositories.find(({ name }) => name === target.value)?.mainBranch ?? '')
            }}
          />
        </Field>
        <Field label="Branch" isNeeded error={fieldProblem(error, 'branch')}>
          <TextInput autoFocus maxLength={250} {...register('branch', { required: true })} />
        </Field>
        {data && repository !== '' && !isAskedFor(repository, data.machines) && (
          <p className="m-0 text-ochre">
            No build machine asks for builds of {repository} now: it waits until one does. One is started in Settings, Builds.
          </p>
        )}
        {!fieldProblem(error, 'branch') && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading || watch('branch').trim() === ''}>
          Build it
        </Button>
      </form>
    </Dialog>
  )
}
