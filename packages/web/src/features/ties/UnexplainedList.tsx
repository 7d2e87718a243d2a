import type { TieReason } from '@dystracer/core/ties/commit-links'
import type { UnexplainedCommit } from '@dystracer/core/ties/wire'
import type { KeyboardEvent } from 'react'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { actionOf } from '#shared/lib/keys'
import { usePages } from '#shared/lib/use-pages'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Button, Pending, Quiet, When } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { ThingLink } from '#shared/ui/ThingLink'
import { useUnexplainedInfiniteQuery } from './ties.api'
import { useTieDecisions } from './use-tie-decisions'

const REASON: Record<TieReason, string> = {
  words: 'says the same',
  component: 'work there is for its component',
  files: 'files of its other commits',
  author: 'by who has it',
  fault: 'where its fault fails',
  later: '',
  settled: '',
  'no-mend': '',
}

/** Commits on main lines that no item asked for, with what they may be for: one key ties, refuses, or lets the commit be. */
export function UnexplainedList() {
  const { rows, onNearEnd, data, error, isLoading } = usePages(useUnexplainedInfiniteQuery({}))
  const { may } = usePeople()
  const trail = usePaneTrail()
  const decisions = useTieDecisions()
  const canDecide = may('code.contribute')
  const sure = rows.filter((row) => row.proposals[0]?.isSure)
  const idOf = (row: UnexplainedCommit) => `${row.repository}/${row.sha}`
  const onKey = (event: KeyboardEvent, row: UnexplainedCommit | undefined, step: (to: UnexplainedCommit) => void): boolean => {
    const action = actionOf('unexplained', event)
    if (!row || action === null || !canDecide || decisions.isLoading) return false
    const [first] = row.proposals
    const next = rows[rows.indexOf(row) + 1]
    if (action === 'needsNone') void decisions.needsNone(row)
    else if (first && action === 'tie') void decisions.tie(row, first.key)
    else if (first && action === 'refuse') return !!decisions.refuse(row, first.key)
    else return false
    if (next) step(next)
    return true
  }
  return (
    <div className="flex h-full flex-col">
      <Pending error={error} isLoading={isLoading} />
      {data && rows.length === 0 && <Quiet>Every commit of the last half-year on a main line says what it is for.</Quiet>}
      {sure.length > 1 && canDecide && (
        <p className="m-0 flex items-baseline gap-3 border-b border-edge-soft px-3 py-1">
          {plural(sure.length, 'proposal')} of those shown {sure.length === 1 ? 'is' : 'are'} sure.
          <Button look="line" disabled={decisions.isLoading} onClick={() => void decisions.tieAll(rows)}>
            Tie them all
          </Button>
        </p>
      )}
      <div className="min-h-0 flex-1">
        {rows.length > 0 && (
          <RowList
            label="Commits without an item"
            rows={rows}
            rowHeightPx={66}
            idOf={idOf}
            selectedId={trail.next?.kind === 'commit' ? trail.next.id : null}
            onNearEnd={onNearEnd}
            onKey={onKey}
            onShow={(row, isStep) => trail.open({ kind: 'commit', id: idOf(row) }, { isStep })}
            renderRow={(row) => <UnexplainedRow row={row} />}
          />
        )}
      </div>
      {canDecide && rows.length > 0 && <DecisionLine row={rows.find((row) => idOf(row) === trail.next?.id)} decisions={decisions} />}
    </div>
  )
}

function UnexplainedRow({ row }: { row: UnexplainedCommit }) {
  const [first] = row.proposals
  return (
    <div className="min-w-0 flex-1 py-1">
      <p className="m-0 flex gap-3">
        <span className="w-[56px] shrink-0 font-mono text-[12px] text-ink-2">{row.sha.slice(0, 7)}</span>
        <span className="min-w-0 flex-1 truncate">{row.subject}</span>
        <span className="shrink-0 text-[12px] text-ink-3">
          <When atMs={row.atMs} />
        </span>
      </p>
      <p className="m-0 truncate pl-[68px] text-[12px] text-ink-2">
        {row.repository} · {row.author}
        {row.files[0] && ` · ${row.files[0]}${row.files.length > 1 ? ` and ${row.files.length - 1} more` : ''}`}
      </p>
      <p className="m-0 truncate pl-[68px] text-[12px]">
        {first ? (
          <>
            {first.isSure ? <b>for</b> : 'perhaps for'} <span className="font-mono">{first.key}</span> {first.title}{' '}
            <span className="text-ink-3">{whyOf(first)}</span>
          </>
        ) : (
          <span className="text-ink-3">no item is like it</span>
        )}
      </p>
    </div>
  )
}

/** Why an item is proposed, in few words. */
function whyOf({ reasons, words }: UnexplainedCommit['proposals'][number]): string {
  return reasons
    .map((reason) => (reason === 'words' && words.length > 0 ? `“${words.slice(0, 3).join(', ')}”` : REASON[reason]))
    .filter(Boolean)
    .join(', ')
}

/** What can be done with the commit that is open beside the list: every proposal with its two answers, and that it needs none. */
function DecisionLine({ row, decisions }: { row: UnexplainedCommit | undefined; decisions: ReturnType<typeof useTieDecisions> }) {
  if (!row)
    return <p className="m-0 border-t border-edge px-3 py-1 text-ink-2">Choose a commit: t ties it, x refuses, n says it needs none.</p>
  return (
    <section aria-label={`What ${row.sha.slice(0, 7)} is for`} className="border-t border-edge px-3 py-1">
      {row.proposals.map((proposal) => (
        <p key={proposal.key} className="m-0 flex items-baseline gap-2">
          <ThingLink to={{ kind: 'item', id: proposal.key }} />
          <span className="min-w-0 flex-1 truncate" title={proposal.title}>
            {proposal.title}
          </span>
          <span className="w-[44px] text-right text-[12px] text-ink-3">{Math.round(proposal.likelihood01 * 100)} %</span>
          <Button
            look="line"
            disabled={decisions.isLoading}
            aria-label={`It is for ${proposal.key}`}
            onClick={() => void decisions.tie(row, proposal.key)}
          >
            it is
          </Button>
          <Button
            look="line"
            disabled={decisions.isLoading}
            aria-label={`It is not for ${proposal.key}`}
            onClick={() => void decisions.refuse(row, proposal.key)}
          >
            it is not
          </Button>
        </p>
      ))}
      <Button look="line" disabled={decisions.isLoading} onClick={() => void decisions.needsNone(row)}>
        It needs no item
      </Button>
    </section>
  )
}
