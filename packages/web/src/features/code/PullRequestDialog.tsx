import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { fieldProblem } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useChangePullRequestMutation, useOpenPullRequestMutation } from './code.api'

interface Words {
  title: string
  text: string
}

/** What a pull request is called and says; `title` may stay empty where git has one to give. */
function WordsForm({
  label,
  words,
  error,
  isLoading,
  deed,
  onSubmit,
}: {
  label: string
  words: Words
  error: unknown
  isLoading: boolean
  deed: string
  onSubmit: (words: Words) => Promise<void>
}) {
  const { register, handleSubmit } = useForm({ defaultValues: words })
  const wrong = fieldProblem(error, 'title') ?? fieldProblem(error, 'source')
  return (
    <form aria-label={label} className="space-y-3 px-4 py-3" onSubmit={(event) => void handleSubmit(onSubmit)(event)}>
      <Field label="Title" error={wrong}>
        <TextInput autoFocus maxLength={300} placeholder="as its newest commit says" {...register('title')} />
      </Field>
      <Field label="What it is for">
        <TextArea rows={6} placeholder={'Name the item that it fixes, such as "Fixes ABC-12".'} {...register('text')} />
      </Field>
      {!wrong && <Refusal error={error} />}
      <Button look="main" type="submit" disabled={isLoading}>
        {deed}
      </Button>
    </form>
  )
}

/** Opens a pull request that lives here, of a branch that was pushed. */
export function OpenPullRequestDialog({
  repository,
  branch,
  onClose,
  onOpened,
}: {
  repository: string
  branch: string
  onClose: () => void
  onOpened: (number: number) => void
}) {
  const [open, { error, isLoading }] = useOpenPullRequestMutation()
  const submit = async ({ title, text }: Words) => {
    const result = await open({ repository, source: branch, ...(title.trim() && { title }), ...(text.trim() && { text }) })
    if (result.data) onOpened(result.data.number)
  }
  const label = `Ask for ${branch} to be merged`
  return (
    <Dialog title={label} isOpen onClose={onClose}>
      <WordsForm
        label={label}
        words={{ title: '', text: '' }}
        error={error}
        isLoading={isLoading}
        deed="Open the pull request"
        onSubmit={submit}
      />
    </Dialog>
  )
}

/** Changes what a pull request that lives here says. */
export function ChangePullRequestDialog({ id, words, onClose }: { id: string; words: Words; onClose: () => void }) {
  const [change, { error, isLoading }] = useChangePullRequestMutation()
  const submit = async ({ title, text }: Words) => {
    const result = await change({ id, title, text })
    if (result.error) return
    toast.success('Changed')
    onClose()
  }
  const label = 'What the pull request says'
  return (
    <Dialog title={label} isOpen onClose={onClose}>
      <WordsForm label={label} words={words} error={error} isLoading={isLoading} deed="Change it" onSubmit={submit} />
    </Dialog>
  )
}
