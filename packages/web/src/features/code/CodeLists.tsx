import type { Branch, CommitSummary, PullRequest } from '@dystracer/core/code/wire'
import { BRANCH_VOCABULARY, COMMIT_VOCABULARY, PULL_REQUEST_VOCABULARY } from '@dystracer/core/filter/code-filter'
import type { FilterVocabulary } from '@dystracer/core/filter/filter'
import type { ReactNode } from 'react'
import { FilterBar } from '#features/looking/index'
import { usePages } from '#shared/lib/use-pages'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pending, Quiet, When } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { useBranchesInfiniteQuery, useCommitsInfiniteQuery, usePullRequestListInfiniteQuery, useRepositoriesQuery } from './code.api'

interface ListProps {
  filter: string
  onFilter: (filter: string) => void
}

export function PullRequestList({ filter, onFilter }: ListProps) {
  return (
    <CodeList<PullRequest>
      label="Pull requests"
      kind="pull-request"
      words={PULL_REQUEST_VOCABULARY as FilterVocabulary}
      placeholder="such as: open author=rafe updated<7d “relay”"
      nothing="No pull request fits."
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
    <CodeList<Branch>
      label="Branches"
      kind="branch"
      words={BRANCH_VOCABULARY as FilterVocabulary}
      placeholder="such as: untied moved>30d repository=kiln"
      nothing="No branch fits."
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
    <CodeList<CommitSummary>
      label="Commits"
      kind="commit"
      words={COMMIT_VOCABULARY as FilterVocabulary}
      placeholder="such as: untied path=src/relay author=noor made<30d"
      nothing="No commit fits."
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

/** A list of one kind of code, with its filter above it; the next page comes as the end comes near. */
function CodeList<Row>({
  label,
  kind,
  words,
  placeholder,
  nothing,
  filter,
  onFilter,
  pages: { rows, onNearEnd, data, error, isLoading },
  idOf,
  renderRow,
  rowHeightPx = 46,
}: ListProps & {
  label: string
  kind: string
  words: FilterVocabulary
  placeholder: string
  nothing: string
  pages: ReturnType<typeof usePages<Row>>
  idOf: (row: Row) => string
  renderRow: (row: Row) => ReactNode
  rowHeightPx?: number
}) {
  const trail = usePaneTrail()
  const { data: repositories } = useRepositoriesQuery()
  const known = { repository: repositories?.rows.map((row) => row.repository) }
  return (
    <div className="flex h-full flex-col">
      <div className="border-b border-edge-soft">
        <FilterBar
          filter={filter}
          onFilter={onFilter}
          label={`Filter of ${label.toLowerCase()}`}
          placeholder={placeholder}
          about={{ words, known }}
        />
      </div>
      <Pending error={error} isLoading={isLoading} />
      {data && rows.length === 0 && <Quiet>{filter === '' ? 'There is none yet.' : `${nothing} Take a condition away.`}</Quiet>}
      <div className="min-h-0 flex-1">
        {rows.length > 0 && (
          <RowList
            label={label}
            rows={rows}
            rowHeightPx={rowHeightPx}
            idOf={idOf}
            selectedId={trail.next?.kind === kind ? trail.next.id : null}
            onNearEnd={onNearEnd}
            onShow={(row, isStep) => trail.open({ kind, id: idOf(row) }, { isStep })}
            renderRow={renderRow}
          />
        )}
      </div>
    </div>
  )
}
