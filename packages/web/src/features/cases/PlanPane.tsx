import { latestResults, placeOf } from '@dystracer/core/cases/stand'
import type { CaseResult, PlanDetail } from '@dystracer/core/cases/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { PaneLink } from '#shared/ui/PaneLink'
import { Button, Pending, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useSignTestPlanMutation, useTestPlanQuery } from './cases.api'
import { nextOpen, runId } from './next-open'
import { OutcomeStroke } from './OutcomeStroke'
import { PlanDialog } from './PlanDialog'

/** A test plan as what it is: cases by place, each with what came of it; a place opens the run of its case. */
export function PlanPane({ id }: { id: string }) {
  const [project = '', planId = ''] = id.split('/')
  const { data, error, isLoading } = useTestPlanQuery({ project, planId })
  const trail = usePaneTrail()
  const { may, nameOf } = usePeople()
  const [isChanging, setIsChanging] = useState(false)
  if (!data)
    return (
      <Pane label="Test plan" title="Test plan">
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  const next = nextOpen(data)
  return (
    <Pane
      label={data.name}
      title={data.name}
      foot={
        <div className="flex flex-wrap items-baseline gap-3">
          {may('tests.write') && data.signed === null && (
            <>
              {next && (
                <Button look="main" onClick={() => trail.open({ kind: 'run', id: runId(data, next) })}>
                  Go on with case {next.number}
                </Button>
              )}
              <Button look="line" onClick={() => setIsChanging(true)}>
                Change the plan…
              </Button>
            </>
          )}
          {may('tests.sign') && <Signing plan={data} />}
        </div>
      }
    >
      {isChanging && <PlanDialog project={project} plan={data} onClose={() => setIsChanging(false)} />}
      <div className="px-4 py-3">
        <p className="m-0 text-ink-2">
          {data.release && (
            <>
              of <ThingLink to={{ kind: 'release', id: data.release }} />{' '}
            </>
          )}
          in {data.environments.join(', ')}
        </p>
        <Progress plan={data} />
        {data.signed && (
          <p role="status" className="border-l-2 border-proof bg-proof-soft px-2 py-1">
            {nameOf(data.signed.by)} stands for it, <When atMs={data.signed.atMs} />. {data.signed.words}
          </p>
        )}
        <Places plan={data} />
      </div>
    </Pane>
  )
}

function Progress({ plan: { progress } }: { plan: PlanDetail }) {
  const parts = (['passed', 'failed', 'blocked', 'skipped', 'open'] as const).filter(
    (part) => progress[part] > 0 || part === 'passed' || part === 'open',
  )
  return (
    <p className="my-2 flex gap-6">
      {parts.map((part) => (
        <span key={part} className={part === 'failed' ? 'text-fault' : ''}>
          <b className="text-[20px]">{progress[part]}</b> {part}
        </span>
      ))}
    </p>
  )
}

function Places({ plan }: { plan: PlanDetail }) {
  const latest = latestResults(plan.results)
  return (
    <table className="w-full text-left">
      <thead className="text-[12px] text-ink-2">
        <tr>
          <th className="font-normal">case</th>
          {plan.environments.map((environment) => (
            <th key={environment} className="font-normal">
              {environment}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {plan.cases.map((row) => (
          <tr key={row.number} className="border-t border-edge-soft align-top">
            <td className="py-1 pr-3">
              <PaneLink to={{ kind: 'case', id: `${plan.project}/${row.number}` }}>{row.number}</PaneLink> {row.title}
            </td>
            {plan.environments.map((environment) => {
              const place = { number: row.number, environment }
              const result = latest.get(placeOf(place))
              return (
                <td key={environment} className="py-1 pr-3">
                  <PaneLink to={{ kind: 'run', id: runId(plan, place) }}>
                    <OutcomeStroke outcome={result && !result.isStale ? result.outcome : 'open'} /> {wordsOf(result)}
                    <span className="sr-only">
                      , case {row.number} in {environment}
                    </span>
                  </PaneLink>
                  {result?.item && (
                    <span className="ml-2">
                      <ThingLink to={{ kind: 'item', id: result.item }} />
                    </span>
                  )}
                </td>
              )
            })}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function wordsOf(result: CaseResult | undefined): string {
  if (!result) return 'open'
  return result.isStale ? 'open again' : result.outcome
}

/** Whoever may stands for the plan as it was done, or takes that back. */
function Signing({ plan: { project, planId, progress, signed } }: { plan: PlanDetail }) {
  const [sign, { isLoading }] = useSignTestPlanMutation()
  const say = (isSigned: boolean) => void sign({ project, planId, isSigned }).then(tellRefusal)
  if (signed)
    return (
      <Button look="line" disabled={isLoading} onClick={() => say(false)}>
        Take the signature back
      </Button>
    )
  return (
    <Button
      look="line"
      disabled={isLoading || progress.open > 0}
      title={progress.open > 0 ? `${progress.open} of it are open` : undefined}
      onClick={() => say(true)}
    >
      Stand for it
    </Button>
  )
}
