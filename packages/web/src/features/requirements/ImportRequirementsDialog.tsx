import type { RequirementImport } from '@dystracer/core/requirements/exchange-wire'
import { useState } from 'react'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { fieldProblem } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { type ImportWishes, useImportRequirementsMutation } from './requirements.api'

const SHOWN_MAX = 8
const COLUMNS = [
  { name: 'keyColumn', of: 'key', label: 'Key' },
  { name: 'titleColumn', of: 'title', label: 'Title' },
  { name: 'textColumn', of: 'text', label: 'Text' },
  { name: 'parentColumn', of: 'parent', label: 'Below' },
  { name: 'headingColumn', of: 'heading', label: 'What is a heading' },
] as const

/** Requirements from a file: what it would do is shown before anything is written. */
export function ImportRequirementsDialog({ onClose }: { onClose: () => void }) {
  const project = usePeople().me?.project.prefix ?? ''
  const [wishes, setWishes] = useState<ImportWishes>({})
  const [file, setFile] = useState<File | null>(null)
  const [plan, setPlan] = useState<RequirementImport | null>(null)
  const [send, { error, isLoading }] = useImportRequirementsMutation()
  const tryIt = async (chosen: File, wished: ImportWishes) => {
    setFile(chosen)
    setWishes(wished)
    const result = await send({ project, file: chosen, trial: true, ...wished })
    setPlan(result.data ?? null)
  }
  const run = async () => {
    if (!file) return
    const result = await send({ project, file, trial: false, ...wishes })
    if (!result.data) return
    const { new: fresh, changed, moved } = result.data
    toast.success(`${plural(fresh.length, 'new requirement')}, ${changed.length} changed, ${moved.length} moved`)
    onClose()
  }
  const wrong = fieldProblem(error, 'prefix')
  return (
    <Dialog title="Bring requirements in" isOpen onClose={onClose}>
      <div className="space-y-3 px-4 py-3">
        <p className="text-ink-2">
          An exchange file (ReqIF, also as an archive with pictures), a CSV table, or lines of JSON. Nothing is written yet.
        </p>
        <div className="grid grid-cols-2 gap-3">
          <Field label="The file">
            <TextInput
              type="file"
              accept=".csv,.reqif,.reqifz,.xml,.zip,.jsonl"
              onChange={(event) => {
                const chosen = event.target.files?.[0]
                if (chosen) void tryIt(chosen, {})
              }}
            />
          </Field>
          <Field label="Prefix of new keys" error={wrong}>
            <TextInput
              className="font-mono uppercase"
              maxLength={10}
              placeholder={plan?.prefix ?? 'as the file or the project has it'}
              onBlur={(event) => {
                const prefix = event.target.value.trim().toUpperCase()
                if (file && prefix !== (wishes.prefix ?? '')) void tryIt(file, { ...wishes, prefix: prefix || undefined })
              }}
            />
          </Field>
        </div>
        {!wrong && <Refusal error={error} />}
        {file && plan?.columns && <Columns plan={plan} onChoose={(name, column) => void tryIt(file, { ...wishes, [name]: column })} />}
        {plan && <Plan plan={plan} />}
        <Button look="main" disabled={isLoading || plan === null || doesNothing(plan)} onClick={() => void run()}>
          {plan !== null && doesNothing(plan) ? 'It would change nothing' : 'Bring them in'}
        </Button>
      </div>
    </Dialog>
  )
}

function doesNothing({ new: fresh, changed, moved, attributes, relations, pictures }: RequirementImport): boolean {
  return fresh.length + changed.length + moved.length + attributes.length + relations.length + pictures.length === 0
}

/** Of a table: which of its columns is which; the rest become attributes. */
function Columns({
  plan,
  onChoose,
}: {
  plan: RequirementImport
  onChoose: (name: (typeof COLUMNS)[number]['name'], column: string) => void
}) {
  return (
    <div className="grid grid-cols-5 gap-2">
      {COLUMNS.map(({ name, of, label }) => (
        <Field key={name} label={label}>
          <Choose
            none="no column"
            value={plan.columns?.[of] ?? ''}
            choices={plan.headings.map((heading) => ({ value: heading, label: heading }))}
            onChange={(event) => onChoose(name, event.target.value)}
          />
        </Field>
      ))}
    </div>
  )
}

function Plan({ plan }: { plan: RequirementImport }) {
  const lines = [
    ...plan.new.map(({ key, title }) => ({ key, words: `new: ${title}` })),
    ...plan.changed.map(({ key, title, what }) => ({ key, words: `another ${what.join(' and ')}: ${title}` })),
    ...plan.moved.map(({ key, from, to }) => ({
      key: `${key} `,
      words: from === to ? 'to another place' : to === null ? 'to the top' : `below ${to}`,
    })),
    ...plan.relations.map(({ name, from, to }) => ({ key: `${from}  `, words: `${name || 'related to'} ${to}` })),
  ]
  const further = [
    plan.attributes.length > 0 && `new or wider attributes: ${plan.attributes.map(({ name }) => name).join(', ')}`,
    plan.pictures.length > 0 && plural(plan.pictures.length, 'picture'),
  ].filter((words) => words !== false)
  return (
    <section aria-label="What it would do" className="max-h-[40vh] overflow-y-auto">
      <p>
        {plural(plan.new.length, 'new one')}, {plan.changed.length} changed, {plan.moved.length} moved, {plan.same} as they are
        {plan.gone.length > 0 && `; ${plan.gone.length} are not in the file and stay`}
        {further.length > 0 && `; ${further.join('; ')}`}.
      </p>
      <ul className="m-0 mt-1 list-none p-0">
        {lines.slice(0, SHOWN_MAX).map(({ key, words }) => (
          <li key={`${key}${words}`} className="truncate border-b border-edge-soft py-0.5">
            <span className="font-mono text-[12px]">{key}</span> {words}
          </li>
        ))}
      </ul>
      {lines.length > SHOWN_MAX && <p className="text-ink-2">and {lines.length - SHOWN_MAX} more</p>}
      {plan.problems.length > 0 && (
        <ul aria-label="Left out" className="m-0 mt-2 list-none p-0 text-fault">
          {plan.problems.slice(0, SHOWN_MAX).map(({ line, column, words }) => (
            <li key={`${line}${words}`}>
              {line > 0 && `${plan.columns ? 'Row' : 'Line'} ${line}`}
              {column ? `${line > 0 ? ', ' : ''}${column}: ` : line > 0 && ': '}
              {words}
            </li>
          ))}
          {plan.problems.length > SHOWN_MAX && <li>and {plan.problems.length - SHOWN_MAX} more</li>}
        </ul>
      )}
    </section>
  )
}
