import type { NodeRef } from '@dystracer/core/basics/node-ref'
import { createContext, useContext, useMemo } from 'react'
import { useLocation, useNavigate } from 'react-router'
import { parseTrail, printTrail, segmentOf, type Segment } from './trail'

/** Which pane of the trail a component stands in. */
export const PaneIndex = createContext(0)

export interface PaneTrail {
  index: number
  segments: Segment[]
  /** Opens a thing to the right of this pane; what stood there before gives way. `isStep` replaces the history entry (arrow keys). */
  open(segment: Segment, options?: { isStep?: boolean }): void
  openRef(ref: NodeRef, options?: { isStep?: boolean }): void
  hrefOf(segment: Segment): string
  close(): void
  /** Changes this pane's own id (a filter), keeping what is open beside it. */
  rename(id: string): void
  /** Makes another pane of this one, keeping what is open beside it. */
  become(segment: Segment): void
  next: Segment | undefined
}

/** The trail as seen from one pane. */
export function usePaneTrail(): PaneTrail {
  const index = useContext(PaneIndex)
  const { pathname } = useLocation()
  const navigate = useNavigate()
  return useMemo(() => {
    const segments = parseTrail(pathname)
    const withNext = (segment: Segment) => [...segments.slice(0, index + 1), segment]
    const open: PaneTrail['open'] = (segment, options) => void navigate(printTrail(withNext(segment)), { replace: options?.isStep ?? false })
    return {
      index,
      segments,
      open,
      openRef: (ref, options) => open(segmentOf(ref), options),
      hrefOf: (segment) => printTrail(withNext(segment)),
      close: () => void navigate(printTrail(segments.slice(0, Math.max(1, index)))),
      rename: (id) => void navigate(printTrail(segments.map((segment, at) => (at === index ? { ...segment, id } : segment))), { replace: true }),
      become: (segment) => void navigate(printTrail(segments.map((known, at) => (at === index ? segment : known)))),
      next: segments[index + 1],
    }
  }, [pathname, index, navigate])
}
