import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { usePeople } from '#features/people/index'
import { toChoices } from '#shared/lib/choices'
import { fieldProblem } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useCarryMutation, useRepositoriesQuery } from './code.api'

type How = 'pick' | 'revert'
const TITLE: Record<How, string> = { pick: 'Bring it to another line', revert: 'Take it back' }

/** What can be made of a commit that stands: brought to another line, or taken back on one, each as a pull request of its own. */
export function CarryActs({ repository, sha }: { repository: string; sha: string }) {
  const { may } = usePeople()
  const [how, setHow] = useState<How | null>(null)
  if (!may('code.contribute')) return null
  return (
    <>
      <Button look="line" onClick={() => setHow('pick')}>
        {TITLE.pick}…
      </Button>
      <Button look="line" onClick={() => setHow('revert')}>
        {TITLE.revert}…
      </Button>
      {how && <CarryDialog repository={repository} sha={sha} how={how} onClose={() => setHow(null)} />}
    </>
  )
}

function CarryDialog({ repository, sha, how, onClose }: { repository: string; sha: string; how: How; onClose: () => void }) {
  const { data } = useRepositoriesQuery()
  const trail = usePaneTrail()
  const [carry, { error, isLoading }] = useCarryMutation()
  const home = data?.rows.find((row) => row.repository === repository)
  const lines = (home?.branches ?? []).filter((branch) => how === 'revert' || !branch.isMain).map(({ name }) => name)
  const main = home?.mainBranch ?? ''
  const { register, handleSubmit, watch } = useForm({ values: { onto: how === 'revert' ? main : '' } })
  const submit = handleSubmit(async ({ onto }) => {
    const result = await carry({ repository, sha, how, onto })
    if (result.error) return
    onClose()
    trail.open({ kind: 'pull-request', id: `${repository}/${result.data.number}` })
  })
  const wrong = fieldProblem(error, 'onto')
  return (
    <Dialog title={TITLE[how]} isOpen onClose={onClose}>
      <form aria-label={TITLE[how]} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <p className="m-0 text-ink-2">
          {how === 'pick'
            ? 'The change is made anew on that line, as a branch with a pull request of its own; its author stays.'
            : 'What it changed is put back on that line, as a branch with a pull request of its own. Nothing is merged by this.'}
        </p>
        <Field label={how === 'pick' ? 'Onto' : 'On'} error={wrong}>
          <Choose none="choose a line" choices={toChoices(lines)} {...register('onto', { required: true })} />
        </Field>
        {!wrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading || watch('onto') === ''}>
          {how === 'pick' ? 'Bring it there' : 'Take it back'}
        </Button>
      </form>
    </Dialog>
  )
}
