import { PICKS_MAX } from '@dystracer/core/maintenance/line-name'
import type { MaintenanceLine } from '@dystracer/core/maintenance/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { usePaneTrail } from '#shared/lib/use-trail'
import { TextInput } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { LineName } from './LineName'
import { useMaintenanceLineQuery } from './maintenance.api'
import { PickPart } from './PickPart'

type Change = MaintenanceLine['changes'][number]

/** The maintenance line of a release: what of the main line to make anew on it. */
export function MaintenancePane({ id }: { id: string }) {
  const [branch, setBranch] = useState<string | undefined>(undefined)
  const { currentData: data, error, isFetching } = useMaintenanceLineQuery({ release: id, ...(branch !== undefined && { branch }) })
  return (
    <Pane label={`Maintenance of ${id}`} title={`${id.replace('@', ' ')}, mended`}>
      {!data && <Pending error={error} isLoading={isFetching} />}
      {!data && branch !== undefined && error && (
        <p className="px-4">
          <Button look="line" onClick={() => setBranch(undefined)}>
            back to the usual line
          </Button>
        </p>
      )}
      {data && <Line key={data.branch} line={data} onBranch={setBranch} />}
    </Pane>
  )
}

function Line({ line, onBranch }: { line: MaintenanceLine; onBranch: (branch: string) => void }) {
  const { may } = usePeople()
  const [text, setText] = useState('')
  const [isDefectsOnly, setIsDefectsOnly] = useState(false)
  const [chosen, setChosen] = useState<readonly string[]>([])
  const { changes, items } = line
  const byKey = new Map(items.map((item) => [item.key, item]))
  const sought = text.trim().toLowerCase()
  const rows = changes.filter(
    ({ subject, author, sha, items: keys }) =>
      (sought === '' || `${subject} ${author} ${sha} ${keys.join(' ')}`.toLowerCase().includes(sought)) &&
      (!isDefectsOnly || keys.some((key) => byKey.get(key)?.type === 'defect')),
  )
  const toggle = (sha: string) => setChosen(chosen.includes(sha) ? chosen.filter((one) => one !== sha) : [...chosen, sha].slice(-PICKS_MAX))
  const choose = (shas: readonly string[]) => setChosen([...new Set([...chosen, ...shas])].slice(0, PICKS_MAX))
  return (
    <div className="flex h-full min-h-0 flex-col">
      <LineName line={line} onBranch={onBranch} />
      {changes.length === 0 ? (
        <Quiet>{line.mainBranch} has nothing that this line lacks.</Quiet>
      ) : (
        <>
          <div className="flex items-center gap-3 border-t border-edge-soft px-4 py-1.5">
            <span className="min-w-0 flex-1">
              <TextInput
                aria-label="Find a change"
                placeholder={`find in ${plural(changes.length + line.more, 'change')} that only ${line.mainBranch} has`}
                value={text}
                onChange={(event) => setText(event.target.value)}
              />
            </span>
            <label className="flex shrink-0 items-center gap-1 text-[12px] text-ink-2">
              <input type="checkbox" checked={isDefectsOnly} onChange={(event) => setIsDefectsOnly(event.target.checked)} />
              for defects
            </label>
          </div>
          <div className="min-h-[140px] flex-1">
            {rows.length === 0 ? (
              <Quiet>No change fits. Take a word away.</Quiet>
            ) : (
              <Changes rows={rows} line={line} chosen={chosen} onToggle={may('releases.make') ? toggle : null} />
            )}
          </div>
          {line.more > 0 && (
            <p className="px-4 py-1 text-[12px] text-ink-2">
              The newest {changes.length} are listed; {plural(line.more, 'older one')} are not.
            </p>
          )}
          {may('releases.make') && (
            <PickPart line={line} chosen={chosen} onChoose={choose} onToggle={toggle} onMade={() => setChosen([])} />
          )}
        </>
      )}
    </div>
  )
}

function Changes({
  rows,
  line,
  chosen,
  onToggle,
}: {
  rows: readonly Change[]
  line: MaintenanceLine
  chosen: readonly string[]
  onToggle: ((sha: string) => void) | null
}) {
  const trail = usePaneTrail()
  const idOf = ({ sha }: Change) => `${line.repository}/${sha}`
  return (
    <RowList
      label={`Changes that only ${line.mainBranch} has`}
      rows={rows}
      idOf={idOf}
      selectedId={trail.next?.kind === 'commit' ? trail.next.id : null}
      onShow={(change, isStep) => trail.open({ kind: 'commit', id: idOf(change) }, { isStep })}
      onKey={(event, change) => {
        if (event.key !== ' ' || !change || !onToggle) return false
        onToggle(change.sha)
        return true
      }}
      renderRow={(change) => (
        <span className="flex min-w-0 flex-1 items-center gap-3">
          {onToggle && (
            // biome-ignore lint/a11y/noStaticElementInteractions lint/a11y/useKeyWithClickEvents: the list takes Space for it
            <span
              data-choose={change.sha}
              className={`grid size-4 shrink-0 place-items-center rounded-[3px] border text-[11px] leading-none ${
                chosen.includes(change.sha) ? 'border-proof bg-proof text-sheet' : 'border-edge'
              }`}
              onClick={(event) => {
                event.stopPropagation()
                onToggle(change.sha)
              }}
            >
              {chosen.includes(change.sha) && (
                <>
                  <span aria-hidden>✓</span>
                  <span className="sr-only">chosen</span>
                </>
              )}
            </span>
          )}
          <span className="shrink-0 font-mono text-[12px] text-ink-3">{change.sha.slice(0, 7)}</span>
          <span className="min-w-0 flex-1 truncate">{change.subject}</span>
          <span className="shrink-0 font-mono text-[12px] text-ink-2">{change.items.slice(0, 2).join(' ')}</span>
        </span>
      )}
    />
  )
}
