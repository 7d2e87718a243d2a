import { boardValue } from '@dystracer/core/board/board'
import { formatMinutes } from '@dystracer/core/text/duration'
import type { Found } from '@dystracer/core/looking/wire'
import type { ItemSummary } from '@dystracer/core/records/wire'
import { COLUMNS_DEFAULT, type ItemColumn } from '@dystracer/core/looking/look'
import { memo, type ReactNode } from 'react'
import { age } from '#shared/lib/format'
import { useAppSelector } from '#shared/lib/store'
import { Marked } from '#shared/ui/Marked'
import { Drift, Initials, Severity } from '#shared/ui/parts'
import { Stair } from '#shared/ui/Stair'
import { usePlaces } from '#features/looking/index'
import { ownFieldAt, type OwnPlace } from '@dystracer/core/setup/own-field'
import { behindTitle, widthOf } from './item-columns'

const PLACE_WORD = { title: '', description: '', comment: 'in a comment: ' } as const

/**
 * An item in one line (drawn anew only when what it shows has changed): key, severity, title, stair, owner. It is marked for a moment when
 * it changes; what was looked for is marked where it stands.
 */
export const ItemRow = memo(function ItemRow({
  item,
  initials,
  ownerName,
  columns = COLUMNS_DEFAULT,
  isMarked = false,
  lacks = '',
  isPale = false,
  found,
  before,
}: {
  item: ItemSummary
  initials: string
  ownerName: string
  columns?: readonly ItemColumn[]
  isMarked?: boolean
  /** What the project's rules ask for and the item has not, in words. */
  lacks?: string
  /** Shown for context only: the filter itself leaves it out. */
  isPale?: boolean
  found?: Found | undefined
  /** What stands before the key: the place in an outline. */
  before?: ReactNode
}) {
  const has = (column: ItemColumn) => columns.includes(column)
  const changedSeq = useAppSelector((state) => state.shell.changedKeys[item.key])
  const isBad = item.severity !== null && item.severity <= 2
  return (
    <div
      key={changedSeq}
      className={`flex min-w-0 flex-1 items-center gap-3 ${changedSeq === undefined ? '' : 'just-changed'} ${isPale ? 'text-ink-3' : ''}`}
    >
      {before}
      {isMarked && (
        <span role="img" aria-label="chosen" className="text-proof">
          ✓
        </span>
      )}
      <span className="w-[58px] shrink-0 font-mono text-[12px] text-ink-2">{item.key}</span>
      {has('severity') && <Severity value={item.severity} />}
      {has('type') && <Cell column="type" item={item} />}
      <span
        data-column="title"
        className={`min-w-0 flex-1 truncate ${isBad && !isPale ? 'font-bold' : ''} ${item.disposition ? 'text-ink-3 line-through' : ''}`}
      >
        {found && found.title.length > 0 ? <Marked pieces={found.title} /> : item.title}
        {found?.excerpt && (
          <span className="ml-2 text-[12px] font-normal text-ink-2">
            {PLACE_WORD[found.place]}
            <Marked pieces={found.excerpt} />
          </span>
        )}
      </span>
      {item.isBlocked && <span className="text-[12px] text-fault">blocked</span>}
      {item.isConfidential && <span className="text-[12px] text-ochre">confidential</span>}
      {lacks !== '' && (
        <span className="shrink-0 text-[12px] text-ochre" title="The project's rules ask for it here">
          {lacks}
        </span>
      )}
      {item.hasDrift && <Drift />}
      {item.hasComeBack && <span className="text-[12px] font-bold text-fault">came back</span>}
      {behindTitle(columns).map((column) =>
        column === 'stair' ? (
          <Stair key={column} stair={item.stair} isRejected={item.disposition !== null} hasComeBack={item.hasComeBack} />
        ) : column === 'owner' ? (
          <span key={column} data-column="owner">
            <Initials text={initials} name={ownerName} />
          </span>
        ) : ownFieldAt(column) !== null ? (
          <OwnCell key={column} column={column as OwnPlace} item={item} />
        ) : (
          <Cell key={column} column={column} item={item} />
        ),
      )}
    </div>
  )
})

/** What a project's own field holds; people by their names. */
function OwnCell({ column, item }: { column: OwnPlace; item: ItemSummary }) {
  const { nameOfValue } = usePlaces()
  const value = boardValue(item, column)
  return <Cell column={column} item={item} text={value === '' ? '' : nameOfValue(column, value)} />
}

function Cell({ column, item, text = textOf(column, item) }: { column: ItemColumn; item: ItemSummary; text?: string | null }) {
  return (
    <span data-column={column} title={text ?? undefined} style={widthOf(column)} className="shrink-0 truncate text-[12px] text-ink-2">
      {text}
    </span>
  )
}

function textOf(column: ItemColumn, item: ItemSummary): string | null {
  switch (column) {
    case 'labels':
      return item.labels.join(', ')
    case 'parent':
      return item.parentKey ?? null
    case 'due':
      return item.dueOn
    case 'updated':
      return age(item.updatedAtMs)
    case 'points':
      return item.points === null ? null : String(item.points)
    case 'estimate':
      return item.estimateMinutes === null ? null : formatMinutes(item.estimateMinutes)
    case 'type':
    case 'priority':
    case 'component':
    case 'milestone':
    case 'sprint':
      return item[column]
    default:
      return null
  }
}
