import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { useConnectRepositoryMutation } from '#features/projects/projects.api'
import { AccessFields } from './AccessFields'
import { accessOfForm, EMPTY_REPOSITORY_FORM } from './repository-access'
import { fieldProblem } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'

/**
 * Connects a repository to the project that one works in. The server asks it for its main line before anything is written, so a wrong
 * address is told here.
 */
export function ConnectRepositoryDialog({ onClose }: { onClose: () => void }) {
  const { me } = usePeople()
  const [connect, { error, isLoading }] = useConnectRepositoryMutation()
  const form = useForm({ defaultValues: EMPTY_REPOSITORY_FORM })
  const { register, handleSubmit, watch } = form
  const isKeyMissing = watch('kind') === 'key' && watch('keyId') === ''
  const project = me?.project
  const submit = handleSubmit(async (input) => {
    const result = await connect({ project: project?.prefix ?? '', url: input.url, access: accessOfForm(input) })
    if (result.error) return
    const { repository, mainBranch, isEmpty } = result.data
    toast.success(
      isEmpty
        ? `${repository} is connected. It has no commits yet: push, and they appear here`
        : `${repository} is connected. Its main line is ${mainBranch}; its history is being read`,
    )
    onClose()
  })
  const wrong = fieldProblem(error, 'url')
  return (
    <Dialog title={`Connect a repository to ${project?.name ?? ''}`} isOpen onClose={onClose}>
      <form aria-label="Connect a repository" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="Its address" error={wrong}>
          <TextInput
            autoFocus
            maxLength={500}
            inputMode="url"
            placeholder="https://code.example.org/team/program.git"
            {...register('url', { required: true })}
          />
        </Field>
        <AccessFields form={form} error={error} />
        <p className="text-[12px] text-ink-2">
          An address by https, ssh or git, or a path on the server where its operator allows that. Its commits, branches and tags are read
          and looked at again every minute; a key such as {project?.prefix}-1 in a branch’s name or a message ties it to the item.
        </p>
        {!wrong && !fieldProblem(error, 'access') && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading || isKeyMissing}>
          {isLoading ? 'Asking it …' : 'Connect'}
        </Button>
      </form>
    </Dialog>
  )
}
