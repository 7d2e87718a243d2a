import { Suspense, useLayoutEffect, useRef, useState } from 'react'
import { paneUnfolded, useAppDispatch, useAppSelector } from '#shared/lib/store'
import { firstOnScreen, isPaneKind, minWidthOf, titleOf, type Segment } from '#shared/lib/trail'
import { PaneIndex } from '#shared/lib/use-trail'
import { PANES } from './panes'

/** The row of panes, and above it the trail line: every pane by name, those on screen in bold; a click unfolds one that is folded away. */
export function TrailView({ segments }: { segments: Segment[] }) {
  const row = useRef<HTMLDivElement>(null)
  const [widthPx, setWidthPx] = useState(1130)
  const unfoldedAt = useAppSelector((state) => state.shell.unfoldedAt)
  const dispatch = useAppDispatch()
  // The number of panes follows the width of the window.
  useLayoutEffect(() => {
    const element = row.current
    if (!element) return
    const observer = new ResizeObserver(() => setWidthPx(element.clientWidth - 16))
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  const { from, to } = firstOnScreen(segments, widthPx, unfoldedAt !== null && unfoldedAt < segments.length ? unfoldedAt : null)
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      {segments.length > 1 && (
        <nav aria-label="Trail" className="flex items-center gap-2 px-3 pt-1.5 text-[12px]">
          {segments.map((segment, index) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a pane's place in the trail is its identity
            <span key={`${index}${segment.kind}${segment.id}`} className="flex min-w-0 items-center gap-2">
              {index > 0 && (
                <span aria-hidden="true" className="text-ink-3">
                  ›
                </span>
              )}
              <button
                type="button"
                onClick={() => dispatch(paneUnfolded(index === segments.length - 1 ? null : index))}
                aria-current={index >= from && index < to ? 'true' : undefined}
                className={`max-w-[220px] truncate ${index >= from && index < to ? 'font-bold' : 'text-ink-2'}`}
              >
                {titleOf(segment)}
              </button>
            </span>
          ))}
        </nav>
      )}
      <div ref={row} className="flex min-h-0 flex-1 gap-2 p-2">
        {segments.slice(from, to).map((segment, offset) => {
          const Content = isPaneKind(segment.kind) ? PANES[segment.kind] : null
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: a pane's place in the trail is its identity
            <PaneIndex.Provider key={`${from + offset}${segment.kind}`} value={from + offset}>
              <div className="min-w-0" style={{ flex: `${minWidthOf(segment)} 1 0` }}>
                <Suspense fallback={<div className="h-full rounded-[3px] border border-edge bg-sheet" />}>
                  {Content ? (
                    <Content id={segment.id} />
                  ) : (
                    <p role="alert" className="p-4">
                      There is no pane called “{segment.kind}”.
                    </p>
                  )}
                </Suspense>
              </div>
            </PaneIndex.Provider>
          )
        })}
      </div>
    </div>
  )
}
