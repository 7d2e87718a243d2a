import type { ItemSummary } from '@dystracer/core/contract/items'
import { useAppSelector } from '../../shared/lib/store'
import { Initials, Severity } from '../../shared/ui/parts'
import { Stair } from '../../shared/ui/Stair'

/** An item in one line: key, severity, title, stair, owner. It is marked for a moment when it changes. */
export function ItemRow({
  item,
  initials,
  ownerName,
  isMarked = false,
}: {
  item: ItemSummary
  initials: string
  ownerName: string
  isMarked?: boolean
}) {
  const changedSeq = useAppSelector((state) => state.shell.changedKeys[item.key])
  return (
    <div key={changedSeq} className={`flex min-w-0 flex-1 items-center gap-3 ${changedSeq === undefined ? '' : 'just-changed'}`}>
      {isMarked && (
        <span role="img" aria-label="chosen" className="text-proof">
          ✓
        </span>
      )}
      <span className="w-[58px] shrink-0 font-mono text-[12px] text-ink-2">{item.key}</span>
      <Severity value={item.severity} />
      <span
        className={`min-w-0 flex-1 truncate ${item.severity !== null && item.severity <= 2 ? 'font-bold' : ''} ${item.disposition ? 'text-ink-3 line-through' : ''}`}
      >
        {item.title}
      </span>
      {item.isBlocked && <span className="text-[12px] text-fault">blocked</span>}
      {item.isConfidential && <span className="text-[12px] text-ochre">confidential</span>}
      {item.hasComeBack && <span className="text-[12px] font-bold text-fault">came back</span>}
      <Stair stair={item.stair} isRejected={item.disposition !== null} hasComeBack={item.hasComeBack} />
      <Initials text={initials} name={ownerName} />
    </div>
  )
}
