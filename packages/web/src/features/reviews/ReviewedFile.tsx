import type { ReactNode } from 'react'
import type { FileData } from 'react-diff-view'
import { FileLink } from '#features/files/index'
import { countsOf, pathOfFile } from '#shared/diff/DiffFile'

/** One file of the change: its head with the mark "seen", which folds away what stands below. */
export function ReviewedFile({
  id,
  repository,
  file,
  isSeen,
  onSeen,
  children,
}: {
  /** Where it stands on the page. */
  id: string
  repository: string
  file: FileData
  isSeen: boolean
  onSeen: () => void
  children: ReactNode
}) {
  const path = pathOfFile(file)
  const counts = countsOf(file)
  return (
    <figure id={id} className="diff-file m-0 mb-2">
      <figcaption className="flex items-baseline gap-3 bg-edge-soft px-3 py-1 text-[12px] text-ink-2">
        <span className="min-w-0 flex-1 truncate font-mono" title={path}>
          {file.type === 'rename' ? `${file.oldPath} → ` : ''}
          <FileLink repository={repository} path={path} />
        </span>
        <span>
          {counts.added} more, {counts.removed} fewer
        </span>
        <label className="flex items-center gap-1">
          <input type="checkbox" checked={isSeen} onChange={onSeen} aria-label={`seen: ${path}`} /> seen
        </label>
      </figcaption>
      {!isSeen && children}
    </figure>
  )
}
