import type { TrainDetail, TrainDone } from '@dystracer/core/trains/wire'
import { useState } from 'react'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { useReleasesQuery } from '#features/releases/releases.api'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { CallOffPart } from './CallOffPart'
import { Cars } from './Cars'
import { PlanDialog } from './PlanDialog'
import { STANDING_TONE, STANDING_WORDS } from './standing-words'
import { useMakeTrainReleasesMutation, useSendTrainMutation, useTrainQuery } from './trains.api'

/** A train: what each service brings and where that runs, what it waits for, and the ways to bring it on. */
export function TrainPane({ id }: { id: string }) {
  const [project = '', trainId = ''] = id.split('/')
  const { data, error, isLoading } = useTrainQuery({ project, trainId })
  const { may } = usePeople()
  const [isChanging, setIsChanging] = useState(false)
  return (
    <Pane
      label="Train"
      title={data?.name ?? 'Train'}
      aside={
        data &&
        data.calledOff === null &&
        may('releases.make') && (
          <Button look="text" onClick={() => setIsChanging(true)}>
            change…
          </Button>
        )
      }
    >
      <Pending error={error} isLoading={isLoading} />
      {data && (
        <>
          <Head data={data} />
          {data.calledOff === null && <Deeds data={data} />}
          <Cars cars={data.cars} />
          <Waits data={data} />
          <CallOffPart data={data} />
        </>
      )}
      {data && isChanging && <PlanDialog project={project} train={data} onClose={() => setIsChanging(false)} />}
    </Pane>
  )
}

function Head({ data }: { data: TrainDetail }) {
  const { nameOf } = usePeople()
  return (
    <div className="px-4 py-3">
      <p>
        <b className={STANDING_TONE[data.standing] ?? ''}>{STANDING_WORDS[data.standing]}</b>
        {data.leavesOn !== null && ` · leaves on ${data.leavesOn}`} · planned by {nameOf(data.by)} <When atMs={data.atMs} />
      </p>
      {data.words !== '' && <p className="mt-1 whitespace-pre-wrap">{data.words}</p>}
      {data.heldWhy !== null && (
        <p role="status" className="mt-1 border-l-2 border-ochre bg-ochre-soft px-2 py-1">
          Not all of its releases could be made by themselves. {data.heldWhy}
        </p>
      )}
    </div>
  )
}

/** What brings it on: the releases that are missing, and the way into each environment. */
function Deeds({ data }: { data: TrainDetail }) {
  const { may } = usePeople()
  const { data: board } = useReleasesQuery()
  const [make, making] = useMakeTrainReleasesMutation()
  const [send, sending] = useSendTrainMutation()
  const of = { project: data.project, trainId: data.trainId }
  const missing = data.cars.filter(({ release }) => release === null)
  const places = (board?.environments ?? []).filter(({ environment }) => !data.cars.every(({ runsIn }) => runsIn.includes(environment)))
  const hasDeployer = board?.hasDeployer ?? false
  const isBusy = making.isLoading || sending.isLoading
  const tell = (result: { data?: TrainDone; error?: unknown }, said: string) => {
    if (result.error) toast.error(problemText(result.error))
    else if (result.data && result.data.refused.length > 0)
      toast.error(result.data.refused.map(({ service, why }) => `${service}: ${why}`).join(' '))
    else toast.success(said)
  }
  const sendTo = async (environment: string, isTold: boolean, needsApproval: boolean) =>
    tell(
      await send({ ...of, environment, isTold }),
      isTold
        ? `It is said to run in ${environment}`
        : needsApproval
          ? `It waits for an approval for ${environment}`
          : `It goes to ${environment}`,
    )
  return (
    <div className="flex flex-wrap items-center gap-2 border-t border-edge px-4 py-3">
      {missing.length > 0 && may('releases.make') && (
        <Button look="main" disabled={isBusy} onClick={() => void make(of).then((result) => tell(result, 'Its releases are made'))}>
          {making.isLoading
            ? 'Making …'
            : missing.length === 1
              ? 'Make the missing release'
              : `Make the ${missing.length} missing releases`}
        </Button>
      )}
      {missing.length === 0 &&
        may('releases.deploy') &&
        places.map(({ environment, needsApproval }) => (
          <span key={environment} className="flex flex-wrap gap-2">
            {(hasDeployer || needsApproval) && (
              <Button disabled={isBusy} onClick={() => void sendTo(environment, false, needsApproval)}>
                {needsApproval ? `Ask for ${environment}` : `Bring it to ${environment}`}
              </Button>
            )}
            {!hasDeployer && (
              <Button disabled={isBusy} onClick={() => void sendTo(environment, true, false)}>
                Say that it runs in {environment}
              </Button>
            )}
          </span>
        ))}
    </div>
  )
}

function Waits({ data: { waits, waitsFor, makes, readyAtMs } }: { data: TrainDetail }) {
  if (waits === null) return null
  return (
    <section aria-label="What it waits for" className="border-t border-edge px-4 py-3">
      <SectionHead>What it waits for</SectionHead>
      <p>
        <span className="font-mono text-[12px]">{waitsFor}</span>:{' '}
        {waits.total === 0 ? (
          <span className="text-ochre">no item is like that yet</span>
        ) : waits.open === 0 ? (
          <b className="text-proof">all {waits.total} merged</b>
        ) : (
          `${waits.open} of ${plural(waits.total, 'item')} not merged yet`
        )}
        {readyAtMs !== null && (
          <>
            {' '}
            · ready since <When atMs={readyAtMs} />
          </>
        )}
        {makes && readyAtMs === null && ' · then its releases are made by themselves'}
      </p>
      <ul className="m-0 max-h-[220px] list-none overflow-y-auto p-0">
        {waits.items.map((item) => (
          <li key={item.key} className="truncate py-0.5">
            <ThingLink to={{ kind: 'item', id: item.key }} /> {item.title}
          </li>
        ))}
      </ul>
      {waits.open > waits.items.length && <p className="text-[12px] text-ink-3">and {waits.open - waits.items.length} more</p>}
    </section>
  )
}
