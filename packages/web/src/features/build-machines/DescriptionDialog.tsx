import type { BuildDescription } from '@dystracer/core/build-machines/wire'
import { useState } from 'react'
import { plural } from '#shared/lib/format'
import { fieldProblem } from '#shared/lib/problem-text'
import { useDelayed } from '#shared/lib/use-delayed'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Dialog } from '#shared/ui/Dialog'
import { Button, Refusal } from '#shared/ui/parts'
import { YamlEditor } from '#shared/editors/YamlEditor'
import { useProposeBuildDescriptionMutation, useTryBuildDescriptionQuery } from './build-machines.api'

const TRY_AFTER_MS = 400
const EXAMPLE = `# How this repository is built; each commit by its own. Whoever runs "dys build" does the same.
starts:
  branches: ["*"]
steps:
  - name: test
    command: make test
    reports: [reports/junit.xml]
`

/** Writes how a repository is built, with what a machine would do by it, and proposes it as a change of the code. */
export function DescriptionDialog({
  repository,
  description,
  onClose,
}: {
  repository: string
  description: BuildDescription
  onClose: () => void
}) {
  const trail = usePaneTrail()
  const { suggestion } = description
  const [text, setText] = useState(description.text ?? suggestion?.text ?? EXAMPLE)
  const asked = useDelayed(text, TRY_AFTER_MS)
  const { data: trial } = useTryBuildDescriptionQuery({ repository, text: asked }, { skip: asked.trim() === '' })
  const [propose, { error, isLoading }] = useProposeBuildDescriptionMutation()
  const wrong = fieldProblem(error, 'text')
  const send = async () => {
    const result = await propose({ repository, text })
    if (!result.data) return
    onClose()
    trail.open({ kind: 'pull-request', id: `${repository}/${result.data.number}` })
  }
  return (
    <Dialog title={`How ${repository} is built`} isOpen onClose={onClose}>
      <div className="space-y-3 px-4 py-3">
        {suggestion && (
          <p className="m-0 text-ink-2">
            Suggested by {suggestion.found.map(({ by, what }) => `${by} (${what})`).join(', ')}. {suggestion.notes.join(' ')}
          </p>
        )}
        <YamlEditor label="Build description" value={text} onChange={setText} />
        <div aria-live="polite">
          {trial && trial.problems.length > 0 && (
            <ul className="m-0 list-none p-0 text-fault">
              {trial.problems.map((problem) => (
                <li key={`${problem.line}/${problem.text}`}>
                  {problem.line !== null && <b>line {problem.line}: </b>}
                  {problem.text}
                </li>
              ))}
            </ul>
          )}
          {trial?.plan && <PlanLines plan={trial.plan} />}
        </div>
        <p className="m-0 text-[12px] text-ink-3">
          It is committed to a branch of its own, with a pull request: nothing changes on {description.branch} before that is merged.
        </p>
        {wrong ? <p className="m-0 text-fault">{wrong}</p> : <Refusal error={error} />}
        <Button
          look="main"
          disabled={isLoading || text.trim() === '' || text === description.text || (trial?.problems.length ?? 0) > 0}
          onClick={() => void send()}
        >
          Propose the change
        </Button>
      </div>
    </Dialog>
  )
}

/** What a machine would do, a line for each step. */
function PlanLines({ plan }: { plan: NonNullable<BuildDescription['plan']> }) {
  return (
    <ol aria-label="What a machine would do" className="m-0 list-none p-0">
      {plan.services.map(({ name, port }) => (
        <li key={`service ${name}`} className="text-ink-2">
          starts {name}
          {port !== null && ` and waits for port ${port}`}
        </li>
      ))}
      {plan.steps.map(({ name, after, shards, reports, artefacts }) => (
        <li key={name} className="flex gap-3">
          <b>{name}</b>
          <span className="min-w-0 flex-1 truncate text-ink-2">
            {[
              after.length === 0 ? 'at once' : `after ${after.join(', ')}`,
              ...(shards > 1 ? [`in ${shards} parts`] : []),
              ...(reports.length > 0 ? [plural(reports.length, 'pattern of reports', 'patterns of reports')] : []),
              ...(artefacts.length > 0 ? ['keeps files'] : []),
            ].join(', ')}
          </span>
        </li>
      ))}
    </ol>
  )
}
