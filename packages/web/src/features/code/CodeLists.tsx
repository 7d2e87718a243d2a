import type { Branch, CommitSummary, PullRequest } from '@dystracer/core/code/wire'
import { BRANCH_VOCABULARY, COMMIT_VOCABULARY, PULL_REQUEST_VOCABULARY } from '@dystracer/core/filter/code-filter'
import type { FilterVocabulary } from '@dystracer/core/filter/filter'
import { FilteredList, type FilteredListProps } from '#features/looking/index'
import { usePages } from '#shared/lib/use-pages'
import { Quiet, When } from '#shared/ui/parts'
import { useBranchesInfiniteQuery, useCommitsInfiniteQuery, usePullRequestListInfiniteQuery } from './code.api'
import { useKnownRepositories } from './use-repositories'

type ListProps = Pick<FilteredListProps<unknown>, 'filter' | 'onFilter'>

export function PullRequestList({ filter, onFilter }: ListProps) {
  return (
    <FilteredList<PullRequest>
      label="Pull requests"
      kind="pull-request"
      words={PULL_REQUEST_VOCABULARY as FilterVocabulary}
      known={useKnownRepositories()}
      placeholder="such as: open author=jo updated<7d “time-out”"
      nothing="No pull request fits."
      none={
        <Quiet>
          No pull request yet. Push a branch and open one from there, under “branches”, or let its newest commit ask by a line of its own:
          “Review-by:” and a name.
        </Quiet>
      }
      filter={filter}
      onFilter={onFilter}
      pages={usePages(usePullRequestListInfiniteQuery({ filter }))}
      idOf={(row) => `${row.repository}/${row.number}`}
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
          <Moment atMs={row.updatedAtMs} />
        </div>
      )}
    />
  )
}

export function BranchList({ filter, onFilter }: ListProps) {
  return (
    <FilteredList<Branch>
      label="Branches"
      kind="branch"
      words={BRANCH_VOCABULARY as FilterVocabulary}
      known={useKnownRepositories()}
      placeholder="such as: untied moved>30d repository=web"
      nothing="No branch fits."
      none={
        <Quiet>
          No branch yet beside the main lines: those that are pushed stand here, and one with an item’s key in its name is tied to it.
        </Quiet>
      }
      filter={filter}
      onFilter={onFilter}
      pages={usePages(useBranchesInfiniteQuery({ filter }))}
      idOf={(row) => `${row.repository}/${row.name}`}
      rowHeightPx={34}
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
          <Moment atMs={row.atMs} />
        </div>
      )}
    />
  )
}

export function CommitList({ filter, onFilter }: ListProps) {
  return (
    <FilteredList<CommitSummary>
      label="Commits"
      kind="commit"
      words={COMMIT_VOCABULARY as FilterVocabulary}
      known={useKnownRepositories()}
      placeholder="such as: untied path=src/payment author=jo made<30d"
      nothing="No commit fits."
      none={<Quiet>No commit was read yet.</Quiet>}
      filter={filter}
      onFilter={onFilter}
      pages={usePages(useCommitsInfiniteQuery({ filter }))}
      idOf={(row) => `${row.repository}/${row.sha}`}
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
          <Moment atMs={row.atMs} />
        </div>
      )}
    />
  )
}

function Moment({ atMs }: { atMs: number }) {
  return (
    <span className="w-[70px] shrink-0 text-right text-[12px] text-ink-3">
      <When atMs={atMs} />
    </span>
  )
}
