import type { TriageEntry } from '@dystracer/core/triage/wire'
import { TRIAGE_SOURCES } from '@dystracer/core/triage/decision'
import { age, plural } from '#shared/lib/format'
import { useAppDispatch } from '#shared/lib/store'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Choose } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { DecideManyBar } from './DecideManyBar'
import { reasonText, SOURCE_PHRASE, SOURCE_WORD } from './reason-text'
import { sourceChosen } from './triage.slice'
import { useTriageQueue } from './use-triage-queue'

const BAD = new Set(['fault', 'came-back', 'failing-test'])

/**
 * The queue of what needs a decision. Digits accept at that severity, `s`, `q` and `x` open the other decisions, their capitals take them
 * at once; the next one opens by itself.
 */
export function TriagePane() {
  const trail = usePaneTrail()
  const dispatch = useAppDispatch()
  const queue = useTriageQueue()
  const { data, error, isLoading, source, total, rows, fresh, showFresh, openKey, marked, setMarked, decideMany, show, onKey, onNearEnd } =
    queue
  return (
    <Pane
      label="Triage"
      title="Triage"
      note={
        <span role="status">
          {data && `${total} to decide`}
          {data && data.asked > 0 && `, ${data.asked} asked`}
        </span>
      }
      aside={
        <>
          {fresh > 0 && (
            <Button look="line" onClick={showFresh}>
              {fresh} new
            </Button>
          )}
          <Choose
            aria-label="From where"
            none="all"
            value={source ?? ''}
            className="w-auto! border-0! py-0.5!"
            choices={TRIAGE_SOURCES.filter((known) => known === source || (data?.bySource[known] ?? 0) > 0).map((known) => ({
              value: known,
              label: `${SOURCE_PHRASE[known]} ${data?.bySource[known] ?? 0}`,
            }))}
            onChange={(event) => dispatch(sourceChosen(event.target.value || null))}
          />
        </>
      }
      foot={
        <div className="flex gap-3 text-[12px]">
          <Button look="line" onClick={() => trail.open({ kind: 'weeks', id: '' })}>
            Weeks
          </Button>
          <Button look="line" onClick={() => trail.open({ kind: 'routing', id: '' })}>
            Routing and duty
          </Button>
        </div>
      }
    >
      <div className="flex h-full flex-col">
        <Pending error={error} isLoading={isLoading} />
        {marked.size > 0 && (
          <DecideManyBar
            keys={[...marked]}
            onDecide={(input, said) => {
              void decideMany(input, said)
              setMarked(new Set())
            }}
            onNone={() => setMarked(new Set())}
          />
        )}
        {data && rows.length === 0 && (
          <Quiet>Nothing waits for a decision. New reports, failing tests and faults that an intake rule logs will stand here.</Quiet>
        )}
        {rows.length > 0 && (
          <div className="min-h-0 flex-1">
            <RowList
              label="Triage"
              rows={rows}
              rowHeightPx={46}
              idOf={(row) => row.item.key}
              selectedId={openKey}
              onKey={onKey}
              onNearEnd={onNearEnd}
              onShow={(row, isStep) => show(row.item.key, isStep)}
              renderRow={(row) => <QueueRow row={row} isMarked={marked.has(row.item.key)} />}
            />
          </div>
        )}
      </div>
    </Pane>
  )
}

function QueueRow({ row, isMarked }: { row: TriageEntry; isMarked: boolean }) {
  return (
    <div className="flex min-w-0 flex-1 items-center gap-3 py-1">
      {isMarked && (
        <span role="img" aria-label="chosen" className="text-proof">
          ✓
        </span>
      )}
      <span className={`w-[52px] shrink-0 font-mono text-[12px] ${BAD.has(row.source) ? 'font-bold text-fault' : 'text-ink-2'}`}>
        {SOURCE_WORD[row.source]}
      </span>
      <span className="min-w-0 flex-1">
        <span className="block truncate font-medium">{row.item.title}</span>
        <span
          className="block truncate text-[12px] text-ink-2"
          title={`${row.item.key}: ${reasonText(row)}, ${plural(row.occurrences, 'time')}`}
        >
          {row.item.key} · {reasonText({ ...row, reasons: row.reasons.filter((reason) => reason.code !== 'waits') })} · {row.from}
        </span>
      </span>
      <span className="shrink-0 text-[12px] text-ink-3">{age(row.atMs)}</span>
    </div>
  )
}
