import type { ReactNode } from 'react'
import { PaneLink } from '#shared/ui/PaneLink'

/** Opens a file, at a line where one is named, in the pane to the right. */
export function FileLink({ repository, path, line, children }: { repository: string; path: string; line?: number; children?: ReactNode }) {
  const id = `${repository}/${path}${line === undefined ? '' : `:${line}`}`
  return (
    <PaneLink to={{ kind: 'file', id }} className="font-mono text-[12px]">
      {children ?? path}
    </PaneLink>
  )
}
