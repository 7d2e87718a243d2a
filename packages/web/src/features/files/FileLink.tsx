import type { ReactNode } from 'react'
import { usePaneTrail } from '#shared/lib/use-trail'

/** Opens a file, at a line where one is named, in the pane to the right. */
export function FileLink({ repository, path, line, children }: { repository: string; path: string; line?: number; children?: ReactNode }) {
  const trail = usePaneTrail()
  const segment = { kind: 'file', id: `${repository}/${path}${line === undefined ? '' : `:${line}`}` }
  return (
    <a
      href={trail.hrefOf(segment)}
      className="link font-mono text-[12px]"
      onClick={(event) => {
        if (event.ctrlKey || event.metaKey || event.shiftKey) return
        event.preventDefault()
        trail.open(segment)
      }}
    >
      {children ?? path}
    </a>
  )
}
