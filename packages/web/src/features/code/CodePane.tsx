import type { Branch, CommitSummary, PullRequest } from '@dystracer/core/code/wire'
import { useState } from 'react'
import { useCommitsQuery, usePullRequestsQuery, useRepositoriesQuery } from './code.api'
import { usePeople } from '#features/people/index'
import { ConnectRepositoryDialog } from './ConnectRepositoryDialog'
import { RepositoryLines } from './Repositories'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, When } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'

const TABS = ['pull requests', 'branches', 'commits'] as const

/** Pull requests, branches and commits of all repositories, and whether those can be fetched. */
export function CodePane() {
  const [tab, setTab] = useState<(typeof TABS)[number]>('pull requests')
  const [isConnecting, setIsConnecting] = useState(false)
  const repositories = useRepositoriesQuery()
  const { may } = usePeople()
  return (
    <Pane
      label="Code"
      title="Code"
      aside={
        <div role="tablist" aria-label="What to list" className="flex gap-3">
          {TABS.map((name) => (
            <button
              key={name}
              type="button"
              role="tab"
              aria-selected={tab === name}
              onClick={() => setTab(name)}
              className={tab === name ? 'border-b-2 border-ink font-bold' : 'text-ink-2'}
            >
              {name}
            </button>
          ))}
        </div>
      }
      foot={
        may('setup.change') && (
          <Button look="line" onClick={() => setIsConnecting(true)}>
            Connect a repository…
          </Button>
        )
      }
    >
      <div className="flex h-full flex-col">
        {isConnecting && <ConnectRepositoryDialog onClose={() => setIsConnecting(false)} />}
        {repositories.data?.rows.length === 0 && (
          <p className="border-b border-edge-soft px-3 py-2 text-ink-2">
            No repository is connected yet.{' '}
            {may('setup.change') ? 'Connect one below, and its history appears here.' : 'A lead connects one.'}
          </p>
        )}
        <RepositoryLines className="px-3" />
        <div className="min-h-0 flex-1">
          {tab === 'pull requests' ? (
            <PullRequestList />
          ) : tab === 'branches' ? (
            <BranchList branches={repositories.data?.rows.flatMap((row) => row.branches) ?? []} />
          ) : (
            <CommitList />
          )}
        </div>
      </div>
    </Pane>
  )
}

function PullRequestList() {
  const { data, error, isLoading } = usePullRequestsQuery({})
  const trail = usePaneTrail()
  const idOf = (row: PullRequest) => `${row.repository}/${row.number}`
  if (!data) return <Pending error={error} isLoading={isLoading} />
  return (
    <RowList
      label="Pull requests"
      rows={data.rows}
      rowHeightPx={46}
      idOf={idOf}
      selectedId={trail.next?.id ?? null}
      onShow={(row, isStep) => trail.open({ kind: 'pull-request', id: idOf(row) }, { isStep })}
      renderRow={(row) => (
        <div className="flex min-w-0 flex-1 items-center gap-3 py-1">
          <span className="w-[26px] shrink-0 font-mono text-[12px] text-ink-2">{row.number}</span>
          <span className="min-w-0 flex-1">
            <span className="block truncate font-medium">{row.title}</span>
            <span className="block truncate text-[12px] text-ink-2">
              {row.repository} · {row.author} · {row.items.join(', ') || 'no item'}
            </span>
          </span>
          <span className={row.state === 'open' ? 'font-bold' : 'text-ink-3'}>{row.state}</span>
          {row.build && (
            <span className={`w-[52px] text-[12px] ${row.build.state === 'broke' ? 'font-bold text-fault' : 'text-proof'}`}>
              {row.build.state}
            </span>
          )}
          <span className="w-[70px] shrink-0 text-right text-[12px] text-ink-3">
            <When atMs={row.updatedAtMs} />
          </span>
        </div>
      )}
    />
  )
}

function BranchList({ branches }: { branches: readonly Branch[] }) {
  const trail = usePaneTrail()
  const idOf = (row: Branch) => `${row.repository}/${row.name}`
  return (
    <RowList
      label="Branches"
      rows={branches}
      idOf={idOf}
      selectedId={trail.next?.id ?? null}
      onShow={(row, isStep) => trail.open({ kind: 'branch', id: idOf(row) }, { isStep })}
      renderRow={(row) => (
        <div className="flex min-w-0 flex-1 items-center gap-3">
          <span className="min-w-0 flex-1 truncate font-mono text-[12px]">
            {row.name} <span className="text-ink-2">{row.repository}</span>
          </span>
          {row.forcedAtMs && (
            <span className="text-[12px] text-ochre" title="its history was rewritten">
              rewritten
            </span>
          )}
          <span className="text-[12px] text-ink-2">{row.items.join(', ')}</span>
          <span className="text-[12px] text-ink-3">
            <When atMs={row.atMs} />
          </span>
        </div>
      )}
    />
  )
}

function CommitList() {
  const { data, error, isLoading } = useCommitsQuery({})
  const trail = usePaneTrail()
  const idOf = (row: CommitSummary) => `${row.repository}/${row.sha}`
  if (!data) return <Pending error={error} isLoading={isLoading} />
  return (
    <RowList
      label="Commits"
      rows={data.rows}
      rowHeightPx={46}
      idOf={idOf}
      selectedId={trail.next?.id ?? null}
      onShow={(row, isStep) => trail.open({ kind: 'commit', id: idOf(row) }, { isStep })}
      renderRow={(row) => (
        <div className="flex min-w-0 flex-1 items-center gap-3 py-1">
          <span className="w-[56px] shrink-0 font-mono text-[12px] text-ink-2">{row.sha.slice(0, 7)}</span>
          <span className="min-w-0 flex-1">
            <span className="block truncate">{row.subject}</span>
            <span className="block truncate text-[12px] text-ink-2">
              {row.repository} · {row.author}
            </span>
          </span>
          <span className="text-[12px] text-ink-2">{row.items.join(', ') || 'no item'}</span>
          <span className="w-[70px] shrink-0 text-right text-[12px] text-ink-3">
            <When atMs={row.atMs} />
          </span>
        </div>
      )}
    />
  )
}
