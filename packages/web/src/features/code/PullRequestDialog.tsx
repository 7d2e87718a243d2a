import type { AnswerOf } from '@dystracer/core/people/operation'
import type { codeOperations } from '@dystracer/core/code/wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { plural } from '#shared/lib/format'
import { fieldProblem } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button, Pending, Refusal } from '#shared/ui/parts'
import { useBranchesInfiniteQuery, useChangePullRequestMutation, useOpenPullRequestMutation, usePullRequestProposalQuery } from './code.api'

interface Words {
  title: string
  text: string
  target: string
}
type Proposal = AnswerOf<(typeof codeOperations)['proposePullRequest']>

/** What a pull request is called and says, and where it goes; `title` may stay empty where git has one to give. */
function WordsForm({
  label,
  words,
  branches,
  error,
  isLoading,
  deeds,
  onSubmit,
}: {
  label: string
  words: Words
  branches: readonly string[]
  error: unknown
  isLoading: boolean
  deeds: readonly { words: string; isDraft: boolean }[]
  onSubmit: (words: Words & { isDraft: boolean }) => Promise<void>
}) {
  const { register, handleSubmit } = useForm({ defaultValues: words })
  const wrong = fieldProblem(error, 'title') ?? fieldProblem(error, 'source')
  const wrongTarget = fieldProblem(error, 'target')
  const submit = (isDraft: boolean) => void handleSubmit((said) => onSubmit({ ...said, isDraft }))()
  return (
    <form
      aria-label={label}
      className="space-y-3 px-4 py-3"
      onSubmit={(event) => {
        event.preventDefault()
        submit(deeds[0]?.isDraft ?? false)
      }}
    >
      <div className="grid grid-cols-[3fr_1fr] gap-3">
        <Field label="Title" error={wrong}>
          <TextInput autoFocus maxLength={300} placeholder="as its newest commit says" {...register('title')} />
        </Field>
        <Field label="Into" error={wrongTarget}>
          <Choose
            choices={[...new Set([words.target, ...branches])].map((name) => ({ value: name, label: name }))}
            {...register('target')}
          />
        </Field>
      </div>
      <Field label="What it is for">
        <TextArea rows={9} placeholder={'Name the item that it fixes, such as "Fixes ABC-12".'} {...register('text')} />
      </Field>
      {!(wrong ?? wrongTarget) && <Refusal error={error} />}
      <div className="flex gap-3">
        {deeds.map(({ words: deed, isDraft }, at) => (
          <Button
            key={deed}
            look={at === 0 ? 'main' : 'line'}
            type={at === 0 ? 'submit' : 'button'}
            disabled={isLoading}
            onClick={at === 0 ? undefined : () => submit(isDraft)}
          >
            {deed}
          </Button>
        ))}
      </div>
    </form>
  )
}

/** The branches of a repository, the first of them, by name. */
function useBranchNames(repository: string): string[] {
  const { data } = useBranchesInfiniteQuery({ filter: `repository:${repository}` })
  return (data?.pages[0]?.rows ?? []).map((row) => row.name)
}

/** Opens a pull request that lives here, of a branch that was pushed: what it could say is proposed, what it would conflict in is told. */
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
  const [template, setTemplate] = useState<string | undefined>(undefined)
  const proposal = usePullRequestProposalQuery({ repository, source: branch, ...(template !== undefined && { template }) })
  const [open, { error, isLoading }] = useOpenPullRequestMutation()
  const branches = useBranchNames(repository).filter((name) => name !== branch)
  const submit = async ({ title, text, target, isDraft }: Words & { isDraft: boolean }) => {
    const result = await open({ repository, source: branch, target, isDraft, ...(title.trim() && { title }), ...(text.trim() && { text }) })
    if (result.data) onOpened(result.data.number)
  }
  const label = `Ask for ${branch} to be merged`
  return (
    <Dialog title={label} isOpen onClose={onClose}>
      <Pending error={proposal.error} isLoading={proposal.isLoading} />
      {proposal.data && (
        <>
          <Brings proposal={proposal.data} onTemplate={setTemplate} />
          <WordsForm
            key={proposal.data.template}
            label={label}
            words={{ title: proposal.data.title, text: proposal.data.text, target: proposal.data.target }}
            branches={branches}
            error={error}
            isLoading={isLoading}
            deeds={[
              { words: 'Open the pull request', isDraft: false },
              { words: 'Open it as a draft', isDraft: true },
            ]}
            onSubmit={submit}
          />
        </>
      )}
    </Dialog>
  )
}

/** What it brings, what it would conflict in, and which text of the repository it begins with. */
function Brings({ proposal, onTemplate }: { proposal: Proposal; onTemplate: (template: string) => void }) {
  const { commits, conflicts, templates, template, target } = proposal
  return (
    <div className="px-4 pt-3">
      <p className="m-0 text-ink-2">
        It brings {plural(commits.length, 'commit')}
        {commits.length > 0 &&
          `: ${commits
            .slice(0, 3)
            .map(({ subject }) => `“${subject}”`)
            .join(', ')}`}
        {commits.length > 3 && ' …'}
      </p>
      {conflicts.length > 0 && (
        <p role="status" className="m-0 text-fault">
          It conflicts with {target} in {conflicts.slice(0, 4).join(', ')}
          {conflicts.length > 4 && ` and ${conflicts.length - 4} more`}: bring {target} into it first.
        </p>
      )}
      {templates.length > 1 && (
        <Field label="Which text it begins with">
          <Choose
            value={template ?? ''}
            choices={templates.map((path) => ({ value: path, label: path.replace(/^.*\//, '') }))}
            onChange={({ target: chosen }) => onTemplate(chosen.value)}
          />
        </Field>
      )}
    </div>
  )
}

/** Changes what a pull request that lives here says, and where it goes. */
export function ChangePullRequestDialog({
  id,
  repository,
  words,
  onClose,
}: {
  id: string
  repository: string
  words: Words
  onClose: () => void
}) {
  const [change, { error, isLoading }] = useChangePullRequestMutation()
  const branches = useBranchNames(repository)
  const submit = async ({ title, text, target }: Words) => {
    const result = await change({ id, title, text, ...(target !== words.target && { target }) })
    if (result.error) return
    toast.success('Changed')
    onClose()
  }
  const label = 'What the pull request says'
  return (
    <Dialog title={label} isOpen onClose={onClose}>
      <WordsForm
        label={label}
        words={words}
        branches={branches}
        error={error}
        isLoading={isLoading}
        deeds={[{ words: 'Change it', isDraft: false }]}
        onSubmit={submit}
      />
    </Dialog>
  )
}
