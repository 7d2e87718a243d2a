import { boundedWidth, WIDTH_PX, type ItemColumn } from '@dystracer/core/looking/look'
import { useRef } from 'react'
import { usePlaces } from '#features/looking/index'
import { BEFORE_TITLE, behindTitle, FIXED, usualWidthPx, widthOf, widthProperty } from './item-columns'

const STEP_PX = 8
const NAME: Partial<Record<ItemColumn, string>> = { severity: 'sev', updated: 'changed' }

/**
 * The names of the columns; the line behind each is drawn, or moved by the arrow keys, to make it wider or narrower; a double click gives
 * it its usual width back.
 */
export function ColumnHeads({
  columns,
  widths,
  onWidth,
}: {
  columns: readonly ItemColumn[]
  widths: Readonly<Partial<Record<ItemColumn, number>>>
  onWidth: (column: ItemColumn, px: number | undefined) => void
}) {
  const { nameOfField } = usePlaces()
  const head = (column: ItemColumn) =>
    columns.includes(column) && (
      <span key={column} className="relative shrink-0" style={widthOf(column)}>
        {/* Where the content is narrower than its name, the name reaches into the gap beside it. */}
        <span className={FIXED.has(column) ? `flex whitespace-nowrap ${column === 'owner' ? 'justify-end' : ''}` : 'block truncate'}>
          {NAME[column] ?? nameOfField(column)}
        </span>
        {!FIXED.has(column) && (
          <Edge
            column={column}
            name={nameOfField(column)}
            px={widths[column] ?? usualWidthPx(column)}
            onWidth={(px) => onWidth(column, px)}
          />
        )}
      </span>
    )
  return (
    <div className="flex items-center gap-3 border-b border-edge px-3 py-0.5 text-[12px] text-ink-3">
      <span className="w-[58px] shrink-0">key</span>
      {BEFORE_TITLE.map(head)}
      <span className="min-w-0 flex-1">title</span>
      {behindTitle(columns).map(head)}
    </div>
  )
}

/** The edge of a column: dragged by mouse or touch; moved by the arrow keys. */
function Edge({ column, name, px, onWidth }: { column: ItemColumn; name: string; px: number; onWidth: (px: number | undefined) => void }) {
  const drag = useRef<{ fromX: number; fromPx: number; px: number } | null>(null)
  // Columns behind the title grow to the left, where the title gives way.
  const isLeft = !BEFORE_TITLE.includes(column)
  const list = (element: HTMLElement) => element.closest<HTMLElement>('[data-columns]')
  return (
    // biome-ignore lint/a11y/useSemanticElements: a rule of a page cannot be moved
    <span
      role="separator"
      tabIndex={0}
      aria-orientation="vertical"
      aria-label={`Width of ${name}`}
      aria-valuenow={px}
      aria-valuemin={WIDTH_PX.least}
      aria-valuemax={WIDTH_PX.most}
      className={`absolute top-0 h-full w-[9px] cursor-col-resize touch-none border-edge
        ${isLeft ? '-left-[12px] border-r' : '-right-[9px] border-l'} hover:border-ink`}
      onDoubleClick={() => onWidth(undefined)}
      onKeyDown={(event) => {
        if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return
        event.preventDefault()
        const isWider = (event.key === 'ArrowRight') !== isLeft
        onWidth(boundedWidth(px + (isWider ? STEP_PX : -STEP_PX)))
      }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        drag.current = { fromX: event.clientX, fromPx: px, px }
      }}
      onPointerMove={(event) => {
        if (!drag.current) return
        const moved = event.clientX - drag.current.fromX
        drag.current.px = boundedWidth(drag.current.fromPx + (isLeft ? -moved : moved))
        list(event.currentTarget)?.style.setProperty(widthProperty(column), `${drag.current.px}px`)
      }}
      onPointerUp={() => {
        const drawn = drag.current
        drag.current = null
        if (drawn && drawn.px !== drawn.fromPx) onWidth(drawn.px)
      }}
    />
  )
}
