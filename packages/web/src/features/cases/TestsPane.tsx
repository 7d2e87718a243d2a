import type { Case, Plan } from '@dystracer/core/cases/wire'
import { useState } from 'react'
import { ExplorationDialog, Explorations } from '#features/exploring/index'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { Ways } from '#shared/ui/Ways'
import { CaseDialog } from './CaseDialog'
import { useCasesQuery, useTestPlansQuery } from './cases.api'
import { ImportCasesDialog } from './ImportCasesDialog'
import { OutcomeStroke } from './OutcomeStroke'
import { PlanDialog } from './PlanDialog'
import { apiRoot } from '#shared/lib/past'

/** Tests that people do: what is planned and how far it is, and the cases that there are. */
export function TestsPane({ id }: { id: string }) {
  const trail = usePaneTrail()
  const { me, may } = usePeople()
  const project = me?.project.prefix ?? ''
  const mode = id === 'cases' || id === 'exploring' ? id : 'plans'
  const [dialog, setDialog] = useState<'case' | 'plan' | 'import' | 'exploration' | null>(null)
  const close = () => setDialog(null)
  return (
    <Pane
      label="Tests"
      title="Tests"
      note="by hand"
      aside={<Ways ways={['plans', 'cases', 'exploring']} current={mode} onChoose={(one) => trail.rename(one === 'plans' ? '' : one)} />}
      foot={
        <div className="flex flex-wrap items-baseline gap-3">
          {may('tests.write') && (
            <>
              <Button look="line" onClick={() => setDialog('plan')}>
                Plan a test…
              </Button>
              <Button look="line" onClick={() => setDialog('case')}>
                Write a case…
              </Button>
              <Button look="line" onClick={() => setDialog('import')}>
                Bring cases in…
              </Button>
              <Button look="line" onClick={() => setDialog('exploration')}>
                Explore…
              </Button>
            </>
          )}
          <span className="text-ink-2">
            all cases as{' '}
            <a className="link" href={`${apiRoot}/projects/${project}/cases.csv`} download>
              CSV
            </a>
            ,{' '}
            <a className="link" href={`${apiRoot}/projects/${project}/cases.md`} download>
              Markdown
            </a>
          </span>
        </div>
      }
    >
      {dialog === 'case' && <CaseDialog project={project} onClose={close} />}
      {dialog === 'plan' && <PlanDialog project={project} onClose={close} />}
      {dialog === 'import' && <ImportCasesDialog project={project} onClose={close} />}
      {dialog === 'exploration' && <ExplorationDialog project={project} onClose={close} />}
      {project !== '' && mode === 'plans' && <Plans project={project} />}
      {project !== '' && mode === 'cases' && <Cases project={project} />}
      {project !== '' && mode === 'exploring' && <Explorations project={project} />}
    </Pane>
  )
}

function Plans({ project }: { project: string }) {
  const { data, error, isLoading } = useTestPlansQuery(project)
  const trail = usePaneTrail()
  if (!data) return <Pending error={error} isLoading={isLoading} />
  if (data.rows.length === 0)
    return <Quiet>Nothing is planned yet. A plan says which cases are done, of which release, in which places.</Quiet>
  return (
    <RowList
      label="Test plans"
      rows={data.rows}
      idOf={(plan) => `${project}/${plan.planId}`}
      selectedId={trail.next?.id ?? null}
      rowHeightPx={46}
      onShow={(plan, isStep) => trail.open({ kind: 'test-plan', id: `${project}/${plan.planId}` }, { isStep })}
      renderRow={(plan) => <PlanRow plan={plan} />}
    />
  )
}

function PlanRow({ plan: { name, release, environments, progress, signed } }: { plan: Plan }) {
  const { nameOf } = usePeople()
  return (
    <div className="min-w-0 flex-1 leading-5">
      <div className="truncate font-bold">{name}</div>
      <div className="flex gap-3 truncate text-[12px] text-ink-2">
        <span>{release ?? environments.join(', ')}</span>
        <span>
          {progress.passed} passed{progress.failed > 0 && <span className="text-fault">, {progress.failed} failed</span>}
          {progress.blocked > 0 && `, ${progress.blocked} blocked`}
        </span>
        <span>{progress.open > 0 ? `${progress.open} open` : signed ? `${nameOf(signed.by)} stands for it` : 'all done'}</span>
      </div>
    </div>
  )
}

function Cases({ project }: { project: string }) {
  const { data, error, isLoading } = useCasesQuery(project)
  const trail = usePaneTrail()
  if (!data) return <Pending error={error} isLoading={isLoading} />
  if (data.rows.length === 0)
    return <Quiet>No case is written yet. A case has steps, each with what is expected, and the requirements that it verifies.</Quiet>
  return (
    <RowList
      label="Test cases"
      rows={data.rows}
      idOf={(row) => `${project}/${row.number}`}
      selectedId={trail.next?.id ?? null}
      onShow={(row, isStep) => trail.open({ kind: 'case', id: `${project}/${row.number}` }, { isStep })}
      renderRow={(row) => <CaseRow row={row} />}
    />
  )
}

function CaseRow({ row }: { row: Case }) {
  return (
    <div className={`flex min-w-0 flex-1 items-center gap-3 ${row.isRetired ? 'text-ink-3 line-through' : ''}`}>
      <span className="w-[34px] shrink-0 font-mono text-[12px] text-ink-2">{row.number}</span>
      <OutcomeStroke outcome={row.last === null || row.last.isStale ? 'open' : row.last.outcome} />
      <span className="min-w-0 flex-1 truncate">{row.title}</span>
      <span className="shrink-0 text-[12px] text-ink-2">
        {row.verifies.length > 0 ? row.verifies.join(', ') : <span className="text-ochre">verifies nothing</span>}
      </span>
      <span className="w-[64px] shrink-0 text-right text-[12px] text-ink-2">{plural(row.steps, 'step')}</span>
    </div>
  )
}
