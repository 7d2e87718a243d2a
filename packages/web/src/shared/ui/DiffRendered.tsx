import { useMemo } from 'react'
import { parseDiff } from 'react-diff-view'
import { countsOf, DiffFile, pathOfFile } from './DiffFile'

/** A diff to be read: each file under its name, with what came and went. */
export function DiffRendered({ diff }: { diff: string }) {
  const files = useMemo(() => parseDiff(diff), [diff])
  return (
    <div>
      {files.map((file) => (
        <figure key={`${file.oldPath}-${file.newPath}`} className="diff-file m-0 mb-2">
          <figcaption className="bg-edge-soft px-3 py-1 font-mono text-[12px] text-ink-2">
            {pathOfFile(file)}{' '}
            <span className="text-ink-2">
              {countsOf(file).added} more, {countsOf(file).removed} fewer
            </span>
          </figcaption>
          <DiffFile file={file} />
        </figure>
      ))}
    </div>
  )
}
