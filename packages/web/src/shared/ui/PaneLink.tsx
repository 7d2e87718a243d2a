import type { MouseEvent, ReactNode } from 'react'
import type { Segment } from '#shared/lib/trail'
import { usePaneTrail } from '#shared/lib/use-trail'

/** A link that opens a pane to the right; with Ctrl, Meta or Shift the browser does what it does with any link. */
export function PaneLink({ to, children, className = '' }: { to: Segment; children: ReactNode; className?: string }) {
  const trail = usePaneTrail()
  const onClick = (event: MouseEvent) => {
    if (event.ctrlKey || event.metaKey || event.shiftKey) return
    event.preventDefault()
    trail.open(to)
  }
  return (
    <a href={trail.hrefOf(to)} onClick={onClick} className={`link ${className}`}>
      {children}
    </a>
  )
}
