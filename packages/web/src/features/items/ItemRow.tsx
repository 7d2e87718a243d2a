import type { ItemSummary } from '@dystracer/core/contract/items'
import { COLUMNS_DEFAULT, type ItemColumn } from '@dystracer/core/contract/views'
import { age } from '../../shared/lib/format'
import { useAppSelector } from '../../shared/lib/store'
import { Initials, Severity } from '../../shared/ui/parts'
import { Stair } from '../../shared/ui/Stair'

/** An item in one line: key, severity, title, stair, owner. It is marked for a moment when it changes. */
export function ItemRow({
  item,
  initials,
  ownerName,
  columns = COLUMNS_DEFAULT,
  isMarked = false,
}: {
  item: ItemSummary
  initials: string
  ownerName: string
  columns?: readonly ItemColumn[]
  isMarked?: boolean
}) {
  const has = (column: ItemColumn) => columns.includes(column)
  const changedSeq = useAppSelector((state) => state.shell.changedKeys[item.key])
  return (
    <div key={changedSeq} className={`flex min-w-0 flex-1 items-center gap-3 ${changedSeq === undefined ? '' : 'just-changed'}`}>
      {isMarked && (
        <span role="img" aria-label="chosen" className="text-proof">
          ✓
        </span>
      )}
      <span className="w-[58px] shrink-0 font-mono text-[12px] text-ink-2">{item.key}</span>
      {has('severity') && <Severity value={item.severity} />}
      {has('type') && <span className="w-[52px] shrink-0 truncate text-[12px] text-ink-2">{item.type}</span>}
      <span
        className={`min-w-0 flex-1 truncate ${item.severity !== null && item.severity <= 2 ? 'font-bold' : ''} ${item.disposition ? 'text-ink-3 line-through' : ''}`}
      >
        {item.title}
      </span>
      {item.isBlocked && <span className="text-[12px] text-fault">blocked</span>}
      {item.isConfidential && <span className="text-[12px] text-ochre">confidential</span>}
      {item.hasComeBack && <span className="text-[12px] font-bold text-fault">came back</span>}
      {has('priority') && <Cell widthClass="w-[56px]">{item.priority}</Cell>}
      {has('component') && <Cell widthClass="w-[104px]">{item.component}</Cell>}
      {has('milestone') && <Cell widthClass="w-[60px]">{item.milestone}</Cell>}
      {has('labels') && <Cell widthClass="w-[110px]">{item.labels.join(', ')}</Cell>}
      {has('due') && <Cell widthClass="w-[76px]">{item.dueOn}</Cell>}
      {has('updated') && <Cell widthClass="w-[52px]">{age(item.updatedAtMs)}</Cell>}
      {has('stair') && <Stair stair={item.stair} isRejected={item.disposition !== null} hasComeBack={item.hasComeBack} />}
      {has('owner') && <Initials text={initials} name={ownerName} />}
    </div>
  )
}

function Cell({ widthClass, children }: { widthClass: string; children: string | null }) {
  return (
    <span title={children ?? undefined} className={`${widthClass} shrink-0 truncate text-[12px] text-ink-2`}>
      {children}
    </span>
  )
}
