import type { NodeRef } from '@dystracer/core/basics/node-ref'
import type { MouseEvent, ReactNode } from 'react'
import { segmentOf, titleOf } from '#shared/lib/trail'
import { usePaneTrail } from '#shared/lib/use-trail'

/** A link that opens a thing in the pane to the right. */
export function ThingLink({ to, children, className = '' }: { to: NodeRef; children?: ReactNode; className?: string }) {
  const trail = usePaneTrail()
  const segment = segmentOf(to)
  const onClick = (event: MouseEvent) => {
    if (event.ctrlKey || event.metaKey || event.shiftKey) return
    event.preventDefault()
    trail.open(segment)
  }
  const look = to.kind === 'requirement' ? 'font-serif' : to.kind === 'commit' || to.kind === 'branch' ? 'font-mono text-[12px]' : ''
  return (
    <a href={trail.hrefOf(segment)} onClick={onClick} className={`link ${look} ${className}`}>
      {children ?? titleOf(segment)}
    </a>
  )
}
