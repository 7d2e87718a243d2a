import { useMemo } from 'react'
import { parseDiff, type FileData } from 'react-diff-view'
import { countsOf, DiffFile, type DiffFileProps, pathOfFile } from './DiffFile'

/** What is done with the lines of a file, beside showing them. */
export type WithLines = (file: FileData) => Omit<DiffFileProps, 'file' | 'repository'>

/** A diff to be read: each file under its name, with what came and went. */
export function DiffRendered({ diff, repository, withLines }: { diff: string; repository: string; withLines?: WithLines | undefined }) {
  const files = useMemo(() => parseDiff(diff), [diff])
  return (
    <div>
      {files.map((file) => (
        <figure key={`${file.oldPath}-${file.newPath}`} className="diff-file m-0 mb-2">
          <figcaption className="bg-edge-soft px-3 py-1 font-mono text-[12px] text-ink-2">
            {pathOfFile(file)}{' '}
            {file.hunks.length > 0 && (
              <span className="text-ink-2">
                {countsOf(file).added} more, {countsOf(file).removed} fewer
              </span>
            )}
          </figcaption>
          <DiffFile file={file} repository={repository} {...withLines?.(file)} />
        </figure>
      ))}
    </div>
  )
}
