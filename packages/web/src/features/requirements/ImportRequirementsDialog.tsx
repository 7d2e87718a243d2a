import type { RequirementPlan } from '@dystracer/core/requirements/import-plan'
import type { Requirement } from '@dystracer/core/requirements/wire'
import { useState } from 'react'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { fieldProblem } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useImportRequirementsMutation } from './requirements.api'

const SHOWN_MAX = 8

/** Requirements from a CSV file: what it would do is shown before anything is written. */
export function ImportRequirementsDialog({ rows, onClose }: { rows: readonly Requirement[]; onClose: () => void }) {
  const { me } = usePeople()
  const project = me?.project.prefix ?? ''
  const [prefix, setPrefix] = useState(rows.at(-1)?.key.split('-')[0] ?? `${project.slice(0, 9)}R`)
  const [file, setFile] = useState<File | null>(null)
  const [plan, setPlan] = useState<RequirementPlan | null>(null)
  const [send, { error, isLoading }] = useImportRequirementsMutation()
  const tryIt = async (chosen: File, ofPrefix: string) => {
    setFile(chosen)
    setPlan(null)
    const result = await send({ project, prefix: ofPrefix, file: chosen, isTrial: true })
    if (result.data) setPlan(result.data)
  }
  const run = async () => {
    if (!file) return
    const result = await send({ project, prefix, file, isTrial: false })
    if (!result.data) return
    const { fresh, changed, moved } = result.data
    toast.success(`${plural(fresh.length, 'new requirement')}, ${changed.length} changed, ${moved.length} moved`)
    onClose()
  }
  const wrong = fieldProblem(error, 'prefix')
  const doesNothing = plan !== null && plan.fresh.length + plan.changed.length + plan.moved.length === 0
  return (
    <Dialog title="Bring requirements in" isOpen onClose={onClose}>
      <div className="space-y-3 px-4 py-3">
        <p className="text-ink-2">
          A CSV file in UTF-8 with a column called title or text, and if there are such: id, parent, type (a heading says “heading”).
        </p>
        <div className="grid grid-cols-2 gap-3">
          <Field label="The file">
            <TextInput
              type="file"
              accept=".csv,text/csv"
              onChange={(event) => {
                const chosen = event.target.files?.[0]
                if (chosen) void tryIt(chosen, prefix)
              }}
            />
          </Field>
          <Field label="Prefix of the keys" error={wrong}>
            <TextInput
              className="font-mono uppercase"
              maxLength={10}
              value={prefix}
              onChange={(event) => setPrefix(event.target.value.toUpperCase())}
              onBlur={() => file && void tryIt(file, prefix)}
            />
          </Field>
        </div>
        {!wrong && <Refusal error={error} />}
        {plan && <Plan plan={plan} />}
        <Button look="main" disabled={isLoading || plan === null || doesNothing} onClick={() => void run()}>
          {plan === null ? 'Bring them in' : doesNothing ? 'It would change nothing' : 'Bring them in'}
        </Button>
      </div>
    </Dialog>
  )
}

function Plan({ plan }: { plan: RequirementPlan }) {
  const lines = [
    ...plan.fresh.map(({ key, title }) => ({ key, words: `new: ${title}` })),
    ...plan.changed.map(({ key, title, what }) => ({ key, words: `another ${what.join(' and ')}: ${title}` })),
    ...plan.moved.map(({ key, to }) => ({ key: `${key} `, words: to === null ? 'to the top' : `below ${to}` })),
  ]
  return (
    <section aria-label="What it would do" className="max-h-[40vh] overflow-y-auto">
      <p>
        {plural(plan.fresh.length, 'new one')}, {plan.changed.length} changed, {plan.moved.length} moved, {plan.same} as they are
        {plan.gone.length > 0 && `; ${plan.gone.length} are not in the file and stay`}.
      </p>
      <ul className="m-0 mt-1 list-none p-0">
        {lines.slice(0, SHOWN_MAX).map(({ key, words }) => (
          <li key={key} className="truncate border-b border-edge-soft py-0.5">
            <span className="font-mono text-[12px]">{key}</span> {words}
          </li>
        ))}
      </ul>
      {lines.length > SHOWN_MAX && <p className="text-ink-2">and {lines.length - SHOWN_MAX} more</p>}
      {plan.problems.length > 0 && (
        <ul aria-label="Left out" className="m-0 mt-2 list-none p-0 text-fault">
          {plan.problems.slice(0, SHOWN_MAX).map(({ line, column, words }) => (
            <li key={`${line}${words}`}>
              Row {line}
              {column && `, ${column}`}: {words}
            </li>
          ))}
          {plan.problems.length > SHOWN_MAX && <li>and {plan.problems.length - SHOWN_MAX} more</li>}
        </ul>
      )}
    </section>
  )
}
