// biome-ignore-all lint/a11y/useSemanticElements: a table cannot leave out the rows and columns that are not on screen
import type { Matrix, MatrixCell, MatrixHead, MatrixRow } from '@dystracer/core/threads/matrix'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useMemo, useRef, useState, type KeyboardEvent } from 'react'

const ROW_PX = 28
const COLUMN_PX = 30
const HEAD_PX = 118
const TITLE_PX = 250
/** The tread of the stair, for each state: thick where it holds, thin where it is only said. */
const STROKE: Record<MatrixCell['state'], string> = {
  holds: 'h-[4px] w-[16px] bg-proof',
  said: 'h-[1px] w-[16px] bg-ink-2',
  look: 'h-[4px] w-[16px] bg-ochre',
  broken: 'h-[4px] w-[16px] bg-fault',
}
const MOVES: Readonly<Record<string, readonly [rows: number, columns: number]>> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  PageUp: [-15, 0],
  PageDown: [15, 0],
}

/** What a column is called: what its title says already is not said twice. */
function headOf({ id, title }: MatrixHead): string {
  return id.endsWith(title) ? title : `${id} ${title}`
}

/** Where the grid is: a row, a column, and what they say to each other. */
export interface MatrixPlace {
  row: MatrixRow
  column: MatrixHead
  cell: MatrixCell | null
}

/** A grid of thousands by thousands: only what is on screen is drawn. Arrows walk its cells, Enter opens one. */
export function MatrixGrid({
  matrix,
  folded,
  onFold,
  onPlace,
  onOpen,
}: {
  matrix: Matrix
  folded: ReadonlySet<string>
  onFold: (key: string) => void
  onPlace: (place: MatrixPlace) => void
  onOpen: (place: MatrixPlace) => void
}) {
  const { rows, columns } = matrix
  const scroller = useRef<HTMLDivElement>(null)
  const [at, setAt] = useState<readonly [row: number, column: number]>([0, 0])
  const cells = useMemo(() => new Map(matrix.cells.map((cell) => [JSON.stringify([cell.row, cell.column]), cell])), [matrix])
  const withChildren = useMemo(() => new Set(rows.flatMap(({ parent }) => parent ?? [])), [rows])
  const down = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 8,
    paddingStart: HEAD_PX,
  })
  const across = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => COLUMN_PX,
    overscan: 8,
    paddingStart: TITLE_PX,
  })
  const placeAt = ([row, column]: readonly [number, number]): MatrixPlace | null => {
    const [one, other] = [rows[row], columns[column]]
    return one && other ? { row: one, column: other, cell: cells.get(JSON.stringify([one.key, other.id])) ?? null } : null
  }
  const goTo = (next: readonly [number, number]) => {
    setAt(next)
    down.scrollToIndex(next[0])
    across.scrollToIndex(next[1])
    const place = placeAt(next)
    if (place) onPlace(place)
  }
  const onKeyDown = (event: KeyboardEvent) => {
    const move = MOVES[event.key]
    const place = placeAt(at)
    if (move) {
      event.preventDefault()
      const bound = (value: number, count: number) => Math.max(0, Math.min(count - 1, value))
      goTo([bound(at[0] + move[0], rows.length), bound(at[1] + move[1], columns.length)])
    } else if (event.key === 'Enter' && place) {
      event.preventDefault()
      onOpen(place)
    } else if (event.key === ' ' && place && (withChildren.has(place.row.key) || folded.has(place.row.key))) {
      event.preventDefault()
      onFold(place.row.key)
    }
  }
  const idOf = (row: number, column: number) => `cell-${row}-${column}`
  return (
    <div
      ref={scroller}
      role="grid"
      aria-label="Matrix"
      aria-rowcount={rows.length + 1}
      aria-colcount={columns.length + 1}
      aria-activedescendant={idOf(...at)}
      tabIndex={0}
      onKeyDown={onKeyDown}
      className="relative min-h-0 flex-1 overflow-auto"
    >
      <div role="presentation" className="relative" style={{ height: down.getTotalSize(), width: across.getTotalSize() }}>
        <div role="row" aria-rowindex={1} className="sticky top-0 z-2 bg-sheet" style={{ height: HEAD_PX, width: across.getTotalSize() }}>
          <span role="columnheader" className="sticky left-0 z-1 inline-block h-full bg-sheet align-bottom" style={{ width: TITLE_PX }}>
            <span className="sr-only">Requirement</span>
          </span>
          {across.getVirtualItems().map(({ index, start }) => (
            <span
              key={columns[index]?.id}
              role="columnheader"
              aria-colindex={index + 2}
              title={`${columns[index]?.id} ${columns[index]?.title}`}
              className={`absolute bottom-0 overflow-hidden pb-1 text-[12px] whitespace-nowrap [writing-mode:vertical-rl]
                rotate-180 ${index === at[1] ? 'font-bold' : 'text-ink-2'}`}
              style={{ left: start, width: COLUMN_PX, height: HEAD_PX }}
            >
              {columns[index] && headOf(columns[index])}
            </span>
          ))}
        </div>
        {down.getVirtualItems().map(({ index, start }) => {
          const row = rows[index] as MatrixRow
          return (
            <div
              key={row.key}
              role="row"
              aria-rowindex={index + 2}
              className="absolute left-0 border-b border-edge-soft"
              style={{ top: start, height: ROW_PX, width: across.getTotalSize() }}
            >
              <span
                role="rowheader"
                className={`sticky left-0 z-1 inline-flex h-full items-center gap-2 bg-sheet px-3 font-serif text-[14px]
                  ${row.isHeading ? 'font-bold' : ''} ${index === at[0] ? 'bg-mark' : ''}`}
                style={{ width: TITLE_PX }}
              >
                <span className="w-[46px] shrink-0 font-mono text-[12px] font-normal text-ink-2">{row.key}</span>
                <span className="truncate">
                  {row.title}
                  {folded.has(row.key) && ' …'}
                </span>
              </span>
              {across.getVirtualItems().map((column) => {
                const place = placeAt([index, column.index])
                const isHere = at[0] === index && at[1] === column.index
                return (
                  // biome-ignore lint/a11y/useKeyWithClickEvents: keys belong to the grid, whose active cell this is
                  <span
                    key={column.key}
                    id={idOf(index, column.index)}
                    role="gridcell"
                    aria-colindex={column.index + 2}
                    aria-selected={isHere}
                    aria-label={place ? `${row.key}, ${place.column.id}: ${place.cell?.words ?? 'nothing'}` : undefined}
                    title={place?.cell?.words}
                    onClick={() => goTo([index, column.index])}
                    className={`absolute top-0 flex items-center justify-center
                      ${isHere ? 'bg-mark outline-2 outline-ink' : 'hover:bg-mark'}`}
                    style={{ left: column.start, width: COLUMN_PX, height: ROW_PX - 1 }}
                  >
                    {place?.cell && <span aria-hidden="true" className={STROKE[place.cell.state]} />}
                  </span>
                )
              })}
            </div>
          )
        })}
      </div>
    </div>
  )
}
