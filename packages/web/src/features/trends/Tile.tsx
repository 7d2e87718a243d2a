import type { PinnedChart } from '@dystracer/core/trends/wire'
import type { ReactNode } from 'react'
import { Button, SectionHead } from '#shared/ui/parts'
import { usePins } from './use-pins'

/** A chart with its name; it is pinned and taken away here, and, where pinned charts stand, moved. */
export function Tile({
  chart,
  name,
  note,
  isMovable = false,
  children,
}: {
  chart: PinnedChart
  name: string
  /** What its newest value is, in words. */
  note: ReactNode
  isMovable?: boolean
  children: ReactNode
}) {
  const { canPin, isPinned, pin, unpin, move } = usePins()
  return (
    <section aria-label={`${name}, by build`} className="min-w-0">
      <SectionHead>{name}</SectionHead>
      <p className="m-0 mb-1 flex items-baseline gap-3 text-[12px] text-ink-2">
        <span className="min-w-0 flex-1">{note}</span>
        {canPin && isMovable && (
          <>
            <Button look="line" aria-label={`further up: ${name}`} onClick={() => move(chart, -1)}>
              ↑
            </Button>
            <Button look="line" aria-label={`further down: ${name}`} onClick={() => move(chart, 1)}>
              ↓
            </Button>
          </>
        )}
        {canPin && (
          <Button
            look="line"
            aria-label={`${isPinned(chart) ? 'unpin' : 'pin'}: ${name}`}
            onClick={() => (isPinned(chart) ? unpin(chart) : pin(chart))}
          >
            {isPinned(chart) ? 'unpin' : 'pin'}
          </Button>
        )}
      </p>
      {children}
    </section>
  )
}
