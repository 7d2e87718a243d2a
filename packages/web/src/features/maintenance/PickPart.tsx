import type { MaintenanceLine, PickPlan } from '@dystracer/core/maintenance/wire'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { plural } from '#shared/lib/format'
import { fieldProblem } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Pending, Refusal, SectionHead } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useMakePicksMutation, usePickPlanQuery } from './maintenance.api'

const STATE_WORDS: Record<PickPlan['steps'][number]['state'], string> = {
  fits: 'fits',
  nothing: 'is there already',
  conflict: 'conflicts',
}
const STATE_LOOK: Record<PickPlan['steps'][number]['state'], string> = {
  fits: 'text-proof',
  nothing: 'text-ink-3',
  conflict: 'text-fault',
}

/** What becomes of the chosen changes on the line, tried by git as they are chosen; and the way to make them, with or without a release. */
export function PickPart({
  line,
  chosen,
  onChoose,
  onToggle,
  onMade,
}: {
  line: MaintenanceLine
  chosen: readonly string[]
  onChoose: (shas: readonly string[]) => void
  onToggle: (sha: string) => void
  onMade: () => void
}) {
  const asked = { release: `${line.service}@${line.release}`, branch: line.branch, shas: [...chosen].sort() }
  // What is known of the choice before stays in sight, pale, until git has tried this one.
  const { data: plan, error, isFetching } = usePickPlanQuery(asked, { skip: chosen.length === 0 })
  if (chosen.length === 0) return null
  return (
    <section aria-label="What becomes of them" className="max-h-[55%] shrink-0 overflow-y-auto border-t-2 border-edge px-4 py-2">
      <SectionHead>
        {plural(chosen.length, 'change')} on {line.branch}
      </SectionHead>
      {isFetching ? (
        <p role="status" className="text-ink-2">
          Trying them, one upon the other …
        </p>
      ) : (
        <Pending error={error} isLoading={false} />
      )}
      {plan && !error && (
        <div className={isFetching ? 'opacity-60' : ''}>
          <Steps line={line} plan={plan} chosen={chosen} onChoose={onChoose} onToggle={onToggle} />
        </div>
      )}
      {plan && <Making line={line} plan={plan} isStale={isFetching || error !== undefined} shas={asked.shas} onMade={onMade} />}
    </section>
  )
}

function Steps({
  line,
  plan,
  chosen,
  onChoose,
  onToggle,
}: {
  line: MaintenanceLine
  plan: PickPlan
  chosen: readonly string[]
  onChoose: (shas: readonly string[]) => void
  onToggle: (sha: string) => void
}) {
  const subjects = new Map(line.changes.map(({ sha, subject }) => [sha, subject]))
  const link = (sha: string) => <ThingLink to={{ kind: 'commit', id: `${line.repository}/${sha}` }} />
  return (
    <>
      <ol aria-label="In this order" className="m-0 list-decimal pl-5">
        {plan.steps.map(({ sha, state, files, needs }) => (
          <li key={sha} data-state={state} className="py-0.5">
            {link(sha)} {subjects.get(sha)} <b className={STATE_LOOK[state]}>{STATE_WORDS[state]}</b>
            {files.length > 0 && <span className="text-ink-2"> over {files.slice(0, 4).join(', ')}</span>}{' '}
            <Button look="line" aria-label={`Leave out ${sha.slice(0, 7)}`} onClick={() => onToggle(sha)}>
              leave out
            </Button>
            {needs.map((need) => (
              <p key={`${need.sha} ${need.why}`} className="text-[12px] text-ochre">
                {need.why === 'name' ? `It uses ${need.what}, which came with ` : `Before it, ${need.what} was changed there by `}
                {link(need.sha)} {need.subject}
                {chosen.includes(need.sha) && ' (chosen)'}
              </p>
            ))}
            {state === 'conflict' && needs.length === 0 && (
              <p className="text-[12px] text-ochre">
                Nothing that the line lacks explains it: the line itself changed there. Make it by hand in a clone, and push {line.branch}.
              </p>
            )}
          </li>
        ))}
      </ol>
      {plan.further.length > 0 && (
        <p className="mt-1 bg-ochre-soft px-2 py-1">
          With {plan.further.length === 1 ? 'one more' : `${plan.further.length} more`} nothing is lacking:{' '}
          {plan.further.slice(0, 5).map(({ sha, subject }) => (
            <span key={sha} className="block truncate">
              {link(sha)} {subject}
            </span>
          ))}
          {plan.further.length > 5 && <span className="block">and {plan.further.length - 5} more</span>}
          <Button look="line" onClick={() => onChoose(plan.further.map(({ sha }) => sha))}>
            choose {plan.further.length === 1 ? 'it' : 'them'}, too
          </Button>
        </p>
      )}
    </>
  )
}

function Making({
  line,
  plan,
  isStale,
  shas,
  onMade,
}: {
  line: MaintenanceLine
  plan: PickPlan
  /** What is chosen was not tried yet. */
  isStale: boolean
  shas: string[]
  onMade: () => void
}) {
  const trail = usePaneTrail()
  const [make, { error, isLoading }] = useMakePicksMutation()
  const { register, handleSubmit, watch } = useForm({ defaultValues: { isTagged: false, name: line.nextName ?? '' } })
  const [isTagged, name] = watch(['isTagged', 'name'])
  const hasConflict = plan.steps.some(({ state }) => state === 'conflict')
  const bringsNothing = plan.steps.every(({ state }) => state === 'nothing')
  const submit = handleSubmit(async (values) => {
    const wanted = values.isTagged ? values.name.trim() : null
    const result = await make({ release: `${line.service}@${line.release}`, branch: line.branch, shas, name: wanted })
    if (result.error) return
    const { branch, release } = result.data
    onMade()
    toast.success(release === null ? `${branch} is pushed` : `${line.service} ${wanted} is made`)
    trail.open(release === null ? { kind: 'branch', id: `${line.repository}/${branch}` } : { kind: 'release', id: release })
  })
  return (
    <form aria-label="Make the line" className="mt-2 space-y-2" onSubmit={(event) => void submit(event)}>
      <label className="flex items-center gap-1">
        <input type="checkbox" {...register('isTagged')} /> and tag it as a release at once, before builds have seen it
      </label>
      {isTagged && (
        <Field label="Its name" error={fieldProblem(error, 'name')} isNeeded>
          <TextInput maxLength={60} {...register('name')} />
        </Field>
      )}
      {!fieldProblem(error, 'name') && <Refusal error={error} />}
      {hasConflict && <p className="text-[12px] text-ink-2">What conflicts has to be left out, or gets what it needs before it.</p>}
      <Button look="main" type="submit" disabled={isStale || isLoading || hasConflict || bringsNothing || (isTagged && name.trim() === '')}>
        {isTagged ? `Push ${line.branch} and tag ${line.tagPrefix}${name.trim()}` : `Push ${line.branch}`}
      </Button>
    </form>
  )
}
