import type { NodeRef } from '@dystracer/core/basics/node-ref'
import type { ReactNode } from 'react'
import { segmentOf, titleOf } from '#shared/lib/trail'
import { PaneLink } from './PaneLink'

/** A link that opens a thing in the pane to the right. */
export function ThingLink({ to, children, className = '' }: { to: NodeRef; children?: ReactNode; className?: string }) {
  const segment = segmentOf(to)
  const look = to.kind === 'requirement' ? 'font-serif' : to.kind === 'commit' || to.kind === 'branch' ? 'font-mono text-[12px]' : ''
  return (
    <PaneLink to={segment} className={`${look} ${className}`}>
      {children ?? titleOf(segment)}
    </PaneLink>
  )
}

/** A key of an item or of a requirement: items have the prefix of their project. */
export function KeyLink({ project, name }: { project: string; name: string }) {
  return <ThingLink to={{ kind: name.startsWith(`${project}-`) ? 'item' : 'requirement', id: name }} className="mr-3" />
}
