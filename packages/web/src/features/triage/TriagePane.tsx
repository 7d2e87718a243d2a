import type { TriageEntry } from '@dystracer/core/contract/triage'
import type { KeyboardEvent } from 'react'
import { toast } from 'sonner'
import { useActMutation, useTriageQuery } from '../../shared/lib/api'
import { age, plural } from '../../shared/lib/format'
import { problemText } from '../../shared/lib/problem-text'
import { usePaneTrail } from '../../shared/lib/use-trail'
import { Pane } from '../../shared/ui/Pane'
import { Pending, Quiet } from '../../shared/ui/parts'
import { RowList } from '../../shared/ui/RowList'

/** The queue of what needs a decision. Digits accept at that severity, `x` rejects; the next one opens by itself. */
export function TriagePane() {
  const { data, error, isLoading } = useTriageQuery()
  const trail = usePaneTrail()
  const [act] = useActMutation()
  const rows = data?.rows ?? []
  const openKey = trail.next?.kind === 'decision' ? trail.next.id : null
  const decide = async (row: TriageEntry, what: 'accept' | 'reject', body: object, said: string) => {
    const at = rows.findIndex((entry) => entry.item.key === row.item.key)
    const next = rows[at + 1] ?? rows[at - 1]
    const result = await act({ key: row.item.key, act: what, body })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(said, { action: { label: 'Undo', onClick: () => void act({ key: row.item.key, act: 'reopen', body: { words: 'undone' } }) } })
    if (next) trail.open({ kind: 'decision', id: next.item.key }, { isStep: true })
    else trail.close()
  }
  const onKey = (event: KeyboardEvent, row: TriageEntry | undefined) => {
    if (!row) return false
    if (/^[1-5]$/.test(event.key)) {
      void decide(
        row,
        'accept',
        { severity: Number(event.key), ownerId: row.item.ownerId, component: row.item.component },
        `${row.item.key} is accepted at ${event.key}`,
      )
      return true
    }
    if (event.key === 'x') {
      void decide(row, 'reject', { disposition: 'will-not-fix' }, `${row.item.key} is rejected`)
      return true
    }
    return false
  }
  return (
    <Pane
      label="Triage"
      title={
        <>
          Triage <span className="ml-1 text-[13px] font-normal text-ink-2">{data?.total !== undefined ? `${data.total} to decide` : ''}</span>
        </>
      }
      aside={rows.length > 0 && <span className="text-[12px]">oldest {age(rows.at(-1)?.atMs ?? 0)}</span>}
    >
      <Pending error={error} isLoading={isLoading} />
      {data && rows.length === 0 && <Quiet>Nothing waits for a decision. New reports, and faults that an intake rule logs, will stand here.</Quiet>}
      {rows.length > 0 && (
        <RowList
          label="Triage"
          rows={rows}
          rowHeightPx={46}
          idOf={(row) => row.item.key}
          selectedId={openKey}
          onKey={onKey}
          onShow={(row, isStep) => trail.open({ kind: 'decision', id: row.item.key }, { isStep })}
          renderRow={(row) => (
            <div className="flex min-w-0 flex-1 items-center gap-3 py-1">
              <span
                className={`w-[52px] shrink-0 font-mono text-[12px] ${row.source === 'fault' || row.source === 'came-back' ? 'font-bold text-fault' : 'text-ink-2'}`}
              >
                {row.source === 'came-back' ? 'back' : row.source}
              </span>
              <span className="min-w-0 flex-1">
                <span className="block truncate font-medium">{row.item.title}</span>
                <span className="block truncate text-[12px] text-ink-2">
                  {row.item.key} · {row.from}
                  {row.fault && ` · ${row.occurrences} × · ${plural(row.peopleHit, 'person', 'people')}`}
                </span>
              </span>
              <span className="shrink-0 text-[12px] text-ink-3">{age(row.atMs)}</span>
            </div>
          )}
        />
      )}
    </Pane>
  )
}
