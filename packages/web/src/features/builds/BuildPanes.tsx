import type { BuildDetail } from '@dystracer/core/builds/wire'
import type { Build } from '@dystracer/core/code/wire'
import { BUILD_VOCABULARY } from '@dystracer/core/filter/code-filter'
import type { FilterVocabulary } from '@dystracer/core/filter/filter'
import { useState } from 'react'
import { BuildFiles } from '#features/build-files/index'
import { BuildLogs } from '#features/build-logs/index'
import { WantedBuilds, WantedOfBuild } from '#features/build-machines/index'
import { useKnownRepositories } from '#features/code/index'
import { FilteredList } from '#features/looking/index'
import { Covered } from '#features/trends/index'
import { useBuildQuery, useBuildsInfiniteQuery, useFailuresQuery } from './builds.api'
import { STATE_LOOK } from './build-look'
import { MainLines } from './MainLines'
import { Findings } from './Findings'
import { FailureGroups } from './FailureGroups'
import { Steps } from './Steps'
import { TestLink } from './TestLink'
import { ReportBuilds } from './ReportBuilds'
import { plural } from '#shared/lib/format'
import { usePages } from '#shared/lib/use-pages'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'

export function BuildsPane({ id: filter }: { id: string }) {
  const trail = usePaneTrail()
  return (
    <Pane label="Builds" title="Builds" note="newest first">
      <div className="flex h-full flex-col">
        <WantedBuilds />
        <MainLines />
        <div className="min-h-0 flex-1">
          <FilteredList<Build>
            label="Builds"
            kind="build"
            words={BUILD_VOCABULARY as FilterVocabulary}
            known={useKnownRepositories()}
            placeholder="such as: broke main started<7d"
            nothing="No build fits."
            none={
              <>
                <Quiet>No build has been reported yet. Report one from wherever your tests run:</Quiet>
                <div className="px-4">
                  <ReportBuilds />
                </div>
              </>
            }
            filter={filter}
            onFilter={(next) => trail.rename(next)}
            pages={usePages(useBuildsInfiniteQuery({ filter }))}
            idOf={(row) => `${row.repository}/${row.number}`}
            renderRow={(row) => <BuildRow row={row} />}
          />
        </div>
      </div>
    </Pane>
  )
}

function BuildRow({ row }: { row: Build }) {
  return (
    <div className="flex min-w-0 flex-1 items-center gap-3 py-1">
      <span className="w-[44px] shrink-0 truncate font-mono text-[12px] text-ink-2" title={row.name}>
        {row.name}
      </span>
      <span className="min-w-0 flex-1">
        <span className="block truncate font-mono text-[12px]">{row.branch}</span>
        <span className="block truncate text-[12px] text-ink-2">
          {row.repository} · {row.sha.slice(0, 7)}
        </span>
      </span>
      <span className={`text-[12px] ${STATE_LOOK[row.state]}`}>
        {row.state === 'broke' && row.failed > 0 ? `broke: ${plural(row.failed, 'test')}` : row.state}
      </span>
      <span className="w-[70px] shrink-0 text-right text-[12px] text-ink-3">
        <When atMs={row.startedAtMs} />
      </span>
    </div>
  )
}

export function BuildPane({ id }: { id: string }) {
  const { data, error, isLoading } = useBuildQuery(id)
  const failures = useFailuresQuery(id)
  const trail = usePaneTrail()
  const [isAll, setIsAll] = useState(false)
  if (!data)
    return (
      <Pane label="Build" title={id}>
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  return (
    <Pane
      label={`Build ${data.name}`}
      title={
        <>
          Build {data.name}{' '}
          <span className={`text-[13px] ${STATE_LOOK[data.state]}`}>{stateWords(data, failures.data?.groups.length)}</span>
        </>
      }
      aside={
        <>
          <Button look="text" onClick={() => trail.open({ kind: 'trends', id: data.repository })}>
            trends
          </Button>
          <Button look="text" onClick={() => trail.open({ kind: 'thread', id: `build:${id}` })}>
            thread
          </Button>
        </>
      }
    >
      <div className="px-4 py-3">
        <p>
          {data.passed + data.failed + data.skipped === 0 && 'No test was reported'}
          {data.failed > 0
            ? `${data.failed} of ${plural(data.passed + data.failed + data.skipped, 'test')} failed`
            : data.passed > 0 && `${plural(data.passed, 'test')} passed`}
          {data.skipped > 0 && `${data.passed + data.failed > 0 ? ', ' : ''}${data.skipped} skipped`}
        </p>
        <p className="text-ink-2">
          {data.repository} · <ThingLink to={{ kind: 'branch', id: `${data.repository}/${data.branch}` }}>{data.branch}</ThingLink> ·{' '}
          <ThingLink to={{ kind: 'commit', id: `${data.repository}/${data.sha}` }} />
          {data.pullRequest !== null && (
            <>
              {' '}
              · <ThingLink to={{ kind: 'pull-request', id: `${data.repository}/${data.pullRequest}` }} />
            </>
          )}
        </p>
        <p className="text-ink-2">
          Started <When atMs={data.startedAtMs} />
          {data.finishedAtMs !== null && `, took ${Math.max(1, Math.round((data.finishedAtMs - data.startedAtMs) / 1000))} s`}
          {data.state === 'broke' && data.passedBefore > 0 && `; ${plural(data.passedBefore, 'build')} before it passed`}
        </p>
        <WantedOfBuild repository={data.repository} number={data.number} isRunning={data.state === 'running'} />
        {data.items.length > 0 && (
          <p>
            Items:{' '}
            {data.items.map((key) => (
              <ThingLink key={key} to={{ kind: 'item', id: key }} className="mr-2" />
            ))}
          </p>
        )}
      </div>
      <Pending error={failures.error} isLoading={failures.isLoading} />
      {failures.data && <FailureGroups id={id} repository={data.repository} failures={failures.data} />}
      <Findings id={id} repository={data.repository} />
      <Steps build={data} />
      <BuildFiles repository={data.repository} number={data.number} isRunning={data.state === 'running'} />
      <BuildLogs
        repository={data.repository}
        number={data.number}
        isRunning={data.state === 'running'}
        steps={data.steps.map(({ name }) => name)}
      />
      <Covered repository={data.repository} number={data.number} />
      <section aria-label="Tests" className="border-t border-edge">
        {isAll && (
          <ul className="m-0 list-none p-0">
            {data.tests.map((test) => (
              <li key={`${test.suite}/${test.name}`} className="border-b border-edge-soft px-4 py-1.5">
                <span className={OUTCOME_LOOK[test.outcome]}>{test.outcome}</span> <TestLink repository={data.repository} test={test} />
                {test.verifies.map((key) => (
                  <span key={key} className="ml-2">
                    <ThingLink to={{ kind: 'requirement', id: key }} />
                  </span>
                ))}
              </li>
            ))}
          </ul>
        )}
        {data.tests.length > 0 && (
          <div className="px-4 py-2">
            <Button look="text" aria-expanded={isAll} onClick={() => setIsAll(!isAll)}>
              {isAll ? 'only what failed' : `all ${plural(data.tests.length, 'test')}`}
            </Button>
          </div>
        )}
      </section>
    </Pane>
  )
}

const OUTCOME_LOOK: Record<BuildDetail['tests'][number]['outcome'], string> = {
  passed: '',
  failed: 'font-bold text-fault',
  flaky: 'font-bold text-ochre',
  skipped: 'text-ink-3',
}

/** How it stands; of a broken one, for how many reasons, once that is known. */
function stateWords({ state, failed }: Build, reasons: number | undefined): string {
  if (state !== 'broke' || failed === 0) return state
  return reasons === undefined ? 'broke' : `${plural(failed, 'test')} broke, for ${plural(reasons, 'reason')}`
}
