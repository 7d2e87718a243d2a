import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useRef, useState, type KeyboardEvent, type MouseEvent, type ReactNode } from 'react'

export interface RowListProps<Row> {
  rows: readonly Row[]
  idOf: (row: Row) => string
  selectedId: string | null
  label: string
  rowHeightPx?: number
  renderRow: (row: Row) => ReactNode
  /** Shows a row beside the list; `isStep` while moving with the arrows. */
  onShow: (row: Row, isStep: boolean) => void
  /** Keys of the list's own; true when the key was taken. `step` moves on to a row as the arrows do. */
  onKey?: (event: KeyboardEvent, row: Row | undefined, step: (to: Row) => void) => boolean
  onNearEnd?: () => void
  /** A row that heads those below it, tinted. */
  isHead?: (row: Row) => boolean
  headOf?: (row: Row, before: Row | undefined) => ReactNode
  /** What stands over a row in its place, such as its fields being changed; an option of a list cannot hold fields itself. */
  overlay?: { id: string; content: ReactNode } | null
  onDoubleClick?: (row: Row, event: MouseEvent) => void
}

/** A list of rows that only draws what is on screen. Arrows move and show at once, Enter opens and moves on, Home and End jump. */
export function RowList<Row>({
  rows,
  idOf,
  selectedId: shownId,
  label,
  rowHeightPx = 34,
  renderRow,
  onShow,
  onKey,
  onNearEnd,
  isHead,
  headOf,
  overlay,
  onDoubleClick,
}: RowListProps<Row>) {
  const scroller = useRef<HTMLDivElement>(null)
  // The mark moves with the key; the address, and with it all the panes, may follow a moment later.
  const [ahead, setAhead] = useState<string | null>(null)
  const selectedId = ahead ?? shownId
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeightPx,
    overscan: 12,
    getItemKey: (index) => idOf(rows[index] as Row),
  })
  const at = rows.findIndex((row) => idOf(row) === selectedId)
  const shown = virtual.getVirtualItems()
  const isNearEnd = (shown.at(-1)?.index ?? 0) >= rows.length - 20
  // Speaks with the server through the caller: the next page is wanted once the end comes near.
  useEffect(() => {
    if (isNearEnd) onNearEnd?.()
  }, [isNearEnd, onNearEnd])
  // A row that was opened from elsewhere is brought into sight once; the list does not jump afterwards.
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a new selection may move the list
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at)
  }, [selectedId, rows.length > 0])
  const { onKeyDown, letGo } = useRowKeys({
    rows,
    idOf,
    shownId,
    at,
    setAhead,
    onShow,
    onKey,
    scrollTo: (index) => virtual.scrollToIndex(index),
  })
  const overlaid = overlay ? shown.find((entry) => entry.key === overlay.id) : undefined
  const list = (
    <div
      ref={scroller}
      role="listbox"
      aria-label={label}
      tabIndex={0}
      aria-activedescendant={at >= 0 ? `row-${label}-${selectedId}` : undefined}
      onKeyDown={onKeyDown}
      className="h-full overflow-y-auto"
    >
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }} role="presentation">
        {shown.map((entry) => {
          const row = rows[entry.index] as Row
          const id = idOf(row)
          const head = headOf?.(row, rows[entry.index - 1])
          return (
            <div
              key={entry.key}
              data-index={entry.index}
              // Only rows below a head differ in height; measuring all of them costs a layout at every step.
              ref={headOf ? virtual.measureElement : undefined}
              role="presentation"
              className="absolute left-0 w-full"
              style={{ transform: `translateY(${entry.start}px)` }}
            >
              {head}
              {/* biome-ignore lint/a11y/useKeyWithClickEvents: the listbox around it handles the keys */}
              <div
                id={`row-${label}-${id}`}
                role="option"
                tabIndex={-1}
                aria-selected={id === selectedId}
                onClick={() => {
                  letGo()
                  onShow(row, false)
                }}
                onDoubleClick={(event) => onDoubleClick?.(row, event)}
                className={`flex cursor-pointer items-center border-b border-edge-soft px-3
                  ${id === selectedId ? 'bg-mark' : isHead?.(row) ? 'bg-paper' : 'hover:bg-paper'}`}
                style={{ minHeight: rowHeightPx }}
              >
                {renderRow(row)}
              </div>
            </div>
          )
        })}
      </div>
    </div>
  )
  if (overlay === undefined) return list
  return (
    <div className="relative h-full overflow-hidden">
      {list}
      {overlay && overlaid && (
        <div
          className="absolute left-0 flex w-full items-center border-b border-edge bg-sheet px-3"
          style={{ top: overlaid.end - rowHeightPx - (virtual.scrollOffset ?? 0), minHeight: rowHeightPx }}
        >
          {overlay.content}
        </div>
      )}
    </div>
  )
}

/**
 * The keys of a list: arrows and jumps move the mark and show its row, Enter opens it; the list's own keys go first. The selection comes
 * back by the address, later than the next press of a quick hand, so steps count from the row that was asked for last.
 */
function useRowKeys<Row>({
  rows,
  idOf,
  shownId,
  at,
  setAhead,
  onShow,
  onKey,
  scrollTo,
}: Pick<RowListProps<Row>, 'rows' | 'idOf' | 'onShow' | 'onKey'> & {
  shownId: string | null
  /** Where the mark is, -1 for nowhere. */
  at: number
  setAhead: (id: string | null) => void
  scrollTo: (index: number) => void
}) {
  const askedFor = useRef<string[]>([])
  useEffect(() => {
    const asked = askedFor.current
    askedFor.current = shownId !== null && asked.includes(shownId) ? asked.slice(asked.indexOf(shownId) + 1) : []
    if (askedFor.current.length === 0) setAhead(null)
  }, [shownId, setAhead])
  const move = (to: number) => {
    const index = Math.min(Math.max(to, 0), rows.length - 1)
    const row = rows[index]
    if (!row) return
    askedFor.current.push(idOf(row))
    setAhead(idOf(row) === shownId ? null : idOf(row))
    scrollTo(index)
    onShow(row, true)
  }
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || (event.altKey && !event.key.startsWith('Arrow'))) return
    const last = askedFor.current.at(-1)
    const asked = last === undefined ? -1 : rows.findIndex((entry) => idOf(entry) === last)
    const from = asked < 0 ? at : asked
    const row = rows[from]
    if (onKey?.(event, row, (to) => move(rows.indexOf(to)))) {
      event.preventDefault()
      return
    }
    if (event.altKey) return
    const step = {
      ArrowDown: from + 1,
      ArrowUp: from < 0 ? 0 : from - 1,
      Home: 0,
      End: rows.length - 1,
      PageDown: from + 12,
      PageUp: from - 12,
    }[event.key]
    if (step !== undefined) {
      event.preventDefault()
      move(step)
    }
    if (event.key === 'Enter' && row) {
      event.preventDefault()
      onShow(row, false)
    }
  }
  const letGo = () => {
    askedFor.current = []
    setAhead(null)
  }
  return { onKeyDown, letGo }
}
