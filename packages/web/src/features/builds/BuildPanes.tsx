import type { Build } from '@dystracer/core/code/wire'
import { useState } from 'react'
import { useBuildQuery, useBuildsQuery } from './builds.api'
import { plural } from '#shared/lib/format'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet, When } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { ThingLink } from '#shared/ui/ThingLink'

const LOOK: Record<Build['state'], string> = { passed: 'text-proof', broke: 'font-bold text-fault', running: 'text-ink-2' }

export function BuildsPane() {
  const { data, error, isLoading } = useBuildsQuery({})
  const trail = usePaneTrail()
  const idOf = (row: Build) => `${row.repository}/${row.number}`
  return (
    <Pane
      label="Builds"
      title={
        <>
          Builds <span className="ml-1 text-[13px] font-normal text-ink-2">newest first</span>
        </>
      }
    >
      <Pending error={error} isLoading={isLoading} />
      {data && data.rows.length === 0 && (
        <Quiet>No build has been reported. Send CDEvents and JUnit reports from your build service.</Quiet>
      )}
      {data && data.rows.length > 0 && (
        <RowList
          label="Builds"
          rows={data.rows}
          rowHeightPx={46}
          idOf={idOf}
          selectedId={trail.next?.id ?? null}
          onShow={(row, isStep) => trail.open({ kind: 'build', id: idOf(row) }, { isStep })}
          renderRow={(row) => (
            <div className="flex min-w-0 flex-1 items-center gap-3 py-1">
              <span className="w-[26px] shrink-0 font-mono text-[12px] text-ink-2">{row.number}</span>
              <span className="min-w-0 flex-1">
                <span className="block truncate font-mono text-[12px]">{row.branch}</span>
                <span className="block truncate text-[12px] text-ink-2">
                  {row.repository} · {row.sha.slice(0, 7)}
                </span>
              </span>
              <span className={`text-[12px] ${LOOK[row.state]}`}>
                {row.state === 'broke' ? `broke: ${plural(row.failed, 'test')}` : row.state}
              </span>
              <span className="w-[70px] shrink-0 text-right text-[12px] text-ink-3">
                <When atMs={row.startedAtMs} />
              </span>
            </div>
          )}
        />
      )}
    </Pane>
  )
}

export function BuildPane({ id }: { id: string }) {
  const { data, error, isLoading } = useBuildQuery(id)
  const trail = usePaneTrail()
  const [isAll, setIsAll] = useState(false)
  if (!data)
    return (
      <Pane label="Build" title={id}>
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  const failed = data.tests.filter((test) => test.outcome === 'failed')
  const shown = isAll || failed.length === 0 ? data.tests : failed
  return (
    <Pane
      label={`Build ${data.number}`}
      title={
        <>
          Build {data.number} <span className={`text-[13px] ${LOOK[data.state]}`}>{data.state}</span>
        </>
      }
      aside={
        <Button look="text" onClick={() => trail.open({ kind: 'thread', id: `build:${id}` })}>
          thread
        </Button>
      }
    >
      <div className="px-4 py-3">
        <p>
          {data.failed > 0
            ? `${data.failed} of ${plural(data.passed + data.failed + data.skipped, 'test')} failed`
            : `${plural(data.passed, 'test')} passed`}
          {data.skipped > 0 && `, ${data.skipped} skipped`}
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
        {data.items.length > 0 && (
          <p>
            Items:{' '}
            {data.items.map((key) => (
              <ThingLink key={key} to={{ kind: 'item', id: key }} className="mr-2" />
            ))}
          </p>
        )}
      </div>
      <ul aria-label="Tests" className="m-0 list-none border-t border-edge p-0">
        {shown.map((test) => (
          <li key={`${test.suite}/${test.name}`} className="border-b border-edge-soft px-4 py-1.5">
            <span className={test.outcome === 'failed' ? 'font-bold text-fault' : test.outcome === 'skipped' ? 'text-ink-3' : ''}>
              {test.outcome === 'failed' ? 'failed' : test.outcome === 'skipped' ? 'skipped' : 'passed'}
            </span>{' '}
            {test.name}
            {test.verifies.map((key) => (
              <span key={key} className="ml-2">
                <ThingLink to={{ kind: 'requirement', id: key }} />
              </span>
            ))}
            {test.message && (
              <pre className="mt-1 overflow-x-auto bg-fault-soft p-2 font-mono text-[11px] whitespace-pre-wrap">{test.message}</pre>
            )}
          </li>
        ))}
      </ul>
      {failed.length > 0 && (
        <div className="px-4 py-2">
          <Button look="text" onClick={() => setIsAll(!isAll)}>
            {isAll ? 'only what failed' : `all ${data.tests.length} tests`}
          </Button>
        </div>
      )}
    </Pane>
  )
}
