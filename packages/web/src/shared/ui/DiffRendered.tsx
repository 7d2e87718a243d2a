import { Diff, Hunk, parseDiff } from 'react-diff-view'

export function DiffRendered({ diff }: { diff: string }) {
  return (
    <div>
      {parseDiff(diff).map((file) => (
        <figure key={`${file.oldPath}-${file.newPath}`} className="m-0 mb-2">
          <figcaption className="bg-edge-soft px-3 py-1 font-mono text-[12px] text-ink-2">
            {file.type === 'delete' ? file.oldPath : file.newPath}
          </figcaption>
          <Diff viewType="unified" diffType={file.type} hunks={file.hunks} gutterType="none">
            {(hunks) => hunks.map((hunk) => <Hunk key={hunk.content} hunk={hunk} />)}
          </Diff>
        </figure>
      ))}
    </div>
  )
}
