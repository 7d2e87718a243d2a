import type { LogMark } from '@dystracer/core/build-logs/wire'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useRef, type KeyboardEvent } from 'react'
import { useLogLinesQuery } from './build-logs.api'
import type { LogPlace } from './log-id'
import { StyledLine } from './StyledLine'

const LINE_PX = 18
/** Lines that are read at once. */
const BLOCK = 200

/** The lines of a log; only the blocks on screen are read and drawn. Arrows go from line to line. */
export function LogLines({
  place,
  total,
  marks,
  found,
  isFollowed,
  onLine,
}: {
  place: LogPlace
  total: number
  marks: readonly LogMark[]
  /** Lines that hold what is sought. */
  found: readonly number[]
  /** Whether the end stays in sight while the log grows. */
  isFollowed: boolean
  onLine: (line: number) => void
}) {
  const scroller = useRef<HTMLDivElement>(null)
  const blocks = Math.ceil(total / BLOCK)
  const virtual = useVirtualizer({
    count: blocks,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => Math.min(BLOCK, total - index * BLOCK) * LINE_PX,
    overscan: 1,
  })
  // The chosen line is brought into sight, and so is the end of a log that grows.
  useEffect(() => {
    virtual.measure()
    const box = scroller.current
    if (!box) return
    if (isFollowed) box.scrollTop = total * LINE_PX
    else if (place.line !== null) {
      const top = (place.line - 1) * LINE_PX
      if (top < box.scrollTop || top + LINE_PX > box.scrollTop + box.clientHeight) box.scrollTop = top - box.clientHeight / 3
    }
  }, [virtual, place.line, isFollowed, total])
  const onKeyDown = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key]
    if (by === undefined) return
    event.preventDefault()
    onLine(Math.min(total, Math.max(1, (place.line ?? 0) + by)))
  }
  return (
    <div
      ref={scroller}
      role="listbox"
      aria-label="Lines"
      aria-activedescendant={place.line === null ? undefined : `log-line-${place.line}`}
      tabIndex={0}
      onKeyDown={onKeyDown}
      className="min-h-0 flex-1 overflow-auto font-mono text-[12px] leading-[18px]"
    >
      <div className="relative min-w-max" style={{ height: total * LINE_PX }}>
        {virtual.getVirtualItems().map(({ index }) => (
          <Block
            key={index}
            place={place}
            from={index * BLOCK + 1}
            count={Math.min(BLOCK, total - index * BLOCK)}
            marks={marks}
            found={found}
            onLine={onLine}
          />
        ))}
      </div>
    </div>
  )
}

function Block({
  place,
  from,
  count,
  marks,
  found,
  onLine,
}: {
  place: LogPlace
  from: number
  count: number
  marks: readonly LogMark[]
  found: readonly number[]
  onLine: (line: number) => void
}) {
  const { line: chosen, ...which } = place
  const { data } = useLogLinesQuery({ ...which, from, count })
  const markAt = new Map(marks.map((mark) => [mark.line, mark.kind]))
  const isFound = new Set(found)
  return (
    <div className="absolute left-0 w-full" style={{ transform: `translateY(${(from - 1) * LINE_PX}px)` }}>
      {Array.from({ length: count }, (_, at) => {
        const line = from + at
        const kind = markAt.get(line)
        return (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the list takes the keys
          <div
            key={line}
            id={`log-line-${line}`}
            role="option"
            tabIndex={-1}
            aria-selected={line === chosen}
            onClick={() => onLine(line)}
            style={{ height: LINE_PX }}
            className={`flex cursor-pointer pr-4 ${line === chosen ? 'bg-mark' : isFound.has(line) ? 'bg-ochre-soft' : 'hover:bg-paper'}`}
          >
            <span
              className={`w-[60px] shrink-0 border-r-[3px] pr-2 text-right text-ink-3
                ${kind === 'error' ? 'border-fault' : kind === 'warning' ? 'border-ochre' : 'border-edge-soft'}`}
            >
              {line}
            </span>
            <span className="pl-3 whitespace-pre">
              <StyledLine text={data?.lines[at] ?? ''} />
            </span>
          </div>
        )
      })}
    </div>
  )
}
