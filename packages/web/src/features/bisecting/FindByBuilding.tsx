import type { Bisection } from '@dystracer/core/bisecting/wire'
import { useWantedBuilds } from '#features/build-machines/build-machines.api'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Button, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useBeginBisectionMutation, useBisectionsQuery, useCallOffBisectionMutation } from './bisecting.api'

const VERDICT_WORD: Record<Bisection['told'][number]['verdict'], string> = {
  good: 'passes',
  bad: 'fails',
  untold: 'tells nothing',
}

interface FindByBuildingProps {
  repository: string
  /** A build in which the test fails. */
  build: number
  test: { suite: string; name: string }
  /** Whether there is something to search between. */
  canBegin: boolean
}

/** The search for the commit that broke a test, by building: begun here, watched, called off, and what it found. */
export function FindByBuilding({ repository, build, test: { suite, name }, canBegin }: FindByBuildingProps) {
  const { may } = usePeople()
  const { data } = useBisectionsQuery(repository)
  const [begin, { isLoading }] = useBeginBisectionMutation()
  const row = data?.rows.find((one) => one.suite === suite && one.name === name && one.outcome !== 'called-off')
  if (row) return <Search row={row} />
  if (!canBegin || !data || !may('code.contribute')) return null
  return (
    <p className="my-1">
      <Button look="line" disabled={isLoading} onClick={() => void begin({ repository, build, suite, name }).then(tellRefusal)}>
        Find it by building
      </Button>{' '}
      <span className="text-[12px] text-ink-2">builds commits between the last good one and the first bad one until one is left</span>
    </p>
  )
}

function Search({ row }: { row: Bisection }) {
  const { repository, bisectionId, outcome, told, guilty, endedAtMs } = row
  const { may, nameOf } = usePeople()
  const [callOff, { isLoading }] = useCallOffBisectionMutation()
  const commit = (sha: string) => <ThingLink to={{ kind: 'commit', id: `${repository}/${sha}` }}>{sha.slice(0, 7)}</ThingLink>
  return (
    <section aria-label="Found by building" className="my-2 border-l-2 border-proof pl-3">
      {outcome === null && (
        <p className="m-0" role="status">
          Searched by building{row.by && `, for ${nameOf(row.by)}`}: {plural(row.left, 'commit')} left,{' '}
          {`about ${plural(row.steps, 'build')} more. `}
          <Now row={row} />
        </p>
      )}
      {outcome === 'gone' && <p className="m-0">The commits between are not here any more.</p>}
      {outcome === 'found' && (
        <p className="m-0 font-bold">
          {guilty.length === 1 ? 'Built, and found: this commit broke it' : 'Built as far as could be: one of these broke it'}
          {endedAtMs !== null && (
            <span className="text-[12px] font-normal text-ink-3">
              {' '}
              <When atMs={endedAtMs} />
            </span>
          )}
        </p>
      )}
      {guilty.map(({ sha, subject, author, items }) => (
        <p key={sha} className="m-0">
          {commit(sha)} {author}: {subject}
          {items.map((key) => (
            <span key={key}>
              {' '}
              · for <ThingLink to={{ kind: 'item', id: key }} />
            </span>
          ))}
        </p>
      ))}
      {told.length > 0 && (
        <p className="m-0 text-[12px] text-ink-2">
          {told.map(({ sha, verdict, build }, at) => (
            <span key={sha}>
              {at > 0 && ', '}
              {commit(sha)}{' '}
              {build === null ? VERDICT_WORD[verdict] : <Build repository={repository} number={build} text={VERDICT_WORD[verdict]} />}
            </span>
          ))}
        </p>
      )}
      {outcome === null && may('code.contribute') && (
        <Button look="line" disabled={isLoading} onClick={() => void callOff({ repository, bisectionId }).then(tellRefusal)}>
          Stop searching
        </Button>
      )}
    </section>
  )
}

function Build({ repository, number, text }: { repository: string; number: number; text: string }) {
  return <ThingLink to={{ kind: 'build', id: `${repository}/${number}` }}>{text}</ThingLink>
}

/** What is being done for it just now, or what it waits for. */
function Now({ row: { repository, building } }: { row: Bisection }) {
  const { data } = useWantedBuilds({ repository })
  if (building === null) return null
  const isHere = (data?.machines ?? []).some(
    (machine) => machine.isHere && (machine.repositories.length === 0 || machine.repositories.includes(repository)),
  )
  if (building.number !== null)
    return (
      <>
        <Build repository={repository} number={building.number} text={`build ${building.number}`} /> runs, of {building.sha.slice(0, 7)}.
      </>
    )
  return <>{isHere ? `${building.sha.slice(0, 7)} is built next.` : 'No build machine asks for this repository now; it waits for one.'}</>
}
