import type { CaseImport } from '@dystracer/core/cases/wire'
import { useState } from 'react'
import { toast } from 'sonner'
import { plural } from '#shared/lib/format'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useImportCasesMutation } from './cases.api'

/** Cases from a table: what it would do is shown before anything is written. */
export function ImportCasesDialog({ project, onClose }: { project: string; onClose: () => void }) {
  const [file, setFile] = useState<File | null>(null)
  const [plan, setPlan] = useState<CaseImport | null>(null)
  const [send, { error, isLoading }] = useImportCasesMutation()
  const tryIt = async (chosen: File) => {
    setFile(chosen)
    setPlan((await send({ project, file: chosen, trial: true })).data ?? null)
  }
  const run = async () => {
    if (!file) return
    const result = await send({ project, file, trial: false })
    if (!result.data) return
    toast.success(`${plural(result.data.new.length, 'new case')}, ${result.data.changed.length} changed`)
    onClose()
  }
  const doesNothing = plan !== null && plan.new.length + plan.changed.length === 0
  return (
    <Dialog title="Bring test cases in" isOpen onClose={onClose}>
      <div className="space-y-3 px-4 py-3">
        <p className="text-ink-2">
          A CSV table with a column called title and one called steps: a line each, what is done =&gt; what is expected. Further columns:
          text, verifies, number.
        </p>
        <Field label="The file">
          <TextInput
            type="file"
            accept=".csv,text/csv"
            onChange={(event) => {
              const chosen = event.target.files?.[0]
              if (chosen) void tryIt(chosen)
            }}
          />
        </Field>
        <Refusal error={error} />
        {plan && (
          <section aria-label="What it would do">
            <p>
              {plural(plan.new.length, 'new case')}, {plan.changed.length} changed, {plan.same} as they are.
            </p>
            {plan.problems.length > 0 && (
              <ul aria-label="Left out" className="m-0 list-none p-0 text-fault">
                {plan.problems.slice(0, 8).map(({ line, words }) => (
                  <li key={line}>
                    Row {line}: {words}
                  </li>
                ))}
              </ul>
            )}
          </section>
        )}
        <Button look="main" disabled={isLoading || plan === null || doesNothing} onClick={() => void run()}>
          {doesNothing ? 'It would change nothing' : 'Bring them in'}
        </Button>
      </div>
    </Dialog>
  )
}
