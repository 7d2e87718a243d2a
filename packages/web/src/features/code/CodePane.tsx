import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { FoundLines } from '#features/files/index'
import { MergeRow } from '#features/merging/index'
import { UnexplainedList } from '#features/ties/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Button } from '#shared/ui/parts'
import { BranchList, CommitList, PullRequestList } from './CodeLists'
import { useRepositoriesQuery } from './code.api'
import { ConnectRepositoryDialog } from './ConnectRepositoryDialog'
import { RepositoryLines } from './Repositories'

/** What the pane can list; the first word of its address says which, the rest is the filter. */
const TABS = [
  { tab: 'pull-requests', label: 'pull requests' },
  { tab: 'row', label: 'to be merged' },
  { tab: 'branches', label: 'branches' },
  { tab: 'commits', label: 'commits' },
  { tab: 'unexplained', label: 'without an item' },
  { tab: 'text', label: 'find' },
] as const
type Tab = (typeof TABS)[number]['tab']

/** Pull requests, branches and commits of all repositories, and whether those can be fetched. */
export function CodePane({ id }: { id: string }) {
  const trail = usePaneTrail()
  const { tab, filter } = placeIn(id)
  const [isConnecting, setIsConnecting] = useState(false)
  const repositories = useRepositoriesQuery()
  const { may } = usePeople()
  const onFilter = (next: string) => trail.rename(next === '' ? tab : `${tab} ${next}`)
  return (
    <Pane
      label="Code"
      title="Code"
      aside={
        <div role="tablist" aria-label="What to list" className="flex gap-3">
          {TABS.map((known) => (
            <button
              key={known.tab}
              type="button"
              role="tab"
              aria-selected={tab === known.tab}
              onClick={() => trail.rename(known.tab)}
              className={tab === known.tab ? 'border-b-2 border-ink font-bold' : 'text-ink-2'}
            >
              {known.label}
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
          {tab === 'pull-requests' && <PullRequestList filter={filter} onFilter={onFilter} />}
          {tab === 'row' && <MergeRow />}
          {tab === 'branches' && <BranchList filter={filter} onFilter={onFilter} />}
          {tab === 'commits' && <CommitList filter={filter} onFilter={onFilter} />}
          {tab === 'unexplained' && <UnexplainedList />}
          {tab === 'text' && <FoundLines text={filter} onText={onFilter} />}
        </div>
      </div>
    </Pane>
  )
}

function placeIn(id: string): { tab: Tab; filter: string } {
  const space = id.indexOf(' ')
  const word = space < 0 ? id : id.slice(0, space)
  return { tab: TABS.find(({ tab }) => tab === word)?.tab ?? 'pull-requests', filter: space < 0 ? '' : id.slice(space + 1) }
}
