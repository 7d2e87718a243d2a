import type { NodeRef } from '@dystracer/core/basics/node-ref'
import { createContext, useContext, useMemo } from 'react'
import { useLocation, useNavigate } from 'react-router'
import { pageRoot, withoutPast } from './past'
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
  /**
   * Changes this pane's own id (a filter), keeping what is open beside it. Of what it is now, where one change may follow another before
   * the page has drawn the first.
   */
  rename(id: string | ((now: string) => string)): void
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
    const withNext = (segment: Segment, before = segments) => [...before.slice(0, index + 1), segment]
    // The router draws a new address when it finds time, yet the window has it at once: what is done meanwhile goes on from there.
    const now = () => parseTrail(withoutPast(window.location.pathname))
    const open: PaneTrail['open'] = (segment, options) =>
      void navigate(printTrail(withNext(segment, now())), { replace: options?.isStep ?? false })
    return {
      index,
      segments,
      open,
      openRef: (ref, options) => open(segmentOf(ref), options),
      hrefOf: (segment) => `${pageRoot}${printTrail(withNext(segment))}`,
      close: () => void navigate(printTrail(now().slice(0, Math.max(1, index)))),
      rename: (id) =>
        void navigate(
          printTrail(
            now().map((segment, at) => (at === index ? { ...segment, id: typeof id === 'string' ? id : id(segment.id) } : segment)),
          ),
          { replace: true },
        ),
      become: (segment) => void navigate(printTrail(now().map((known, at) => (at === index ? segment : known)))),
      next: segments[index + 1],
    }
  }, [pathname, index, navigate])
}
