import { useMemo, type ReactNode } from 'react'
import { Diff, Hunk, markEdits, tokenize, type ChangeData, type FileData, type ViewType } from 'react-diff-view'

/** Words inside changed lines are marked in files up to so many lines; in longer ones that would keep the page waiting. */
const MARKED_LINES_MAX = 2000

/** A line of a side of a file, as remarks name it. */
export interface DiffLine {
  side: 'old' | 'new'
  line: number
}

interface DiffFileProps {
  file: FileData
  viewType?: ViewType
  /** What stands below a line, by the keys that `keyOfLine` gives. */
  widgets?: Record<string, ReactNode>
  /** The line that keys act on. */
  selected?: DiffLine | null
  onLine?: (line: DiffLine) => void
}

/** One file of a diff: line numbers, changed words marked, in one column or two. A click on a line's number chooses it. */
export function DiffFile({ file, viewType = 'unified', widgets = {}, selected = null, onLine }: DiffFileProps) {
  const { hunks } = file
  const tokens = useMemo(() => {
    const lines = hunks.reduce((count, hunk) => count + hunk.changes.length, 0)
    return lines > MARKED_LINES_MAX ? null : tokenize(hunks, { enhancers: [markEdits(hunks, { type: 'block' })] })
  }, [hunks])
  return (
    <Diff
      viewType={viewType}
      diffType={file.type}
      hunks={hunks}
      tokens={tokens}
      widgets={widgets}
      selectedChanges={selected ? [keyOfLine(file, selected) ?? ''] : []}
      gutterEvents={onLine ? { onClick: ({ change, side }) => change && onLine(lineOf(change, side)) } : {}}
    >
      {(shown) => shown.map((hunk) => <Hunk key={hunk.content} hunk={hunk} />)}
    </Diff>
  )
}

/** The line of a change as one of its sides numbers it: what was taken out stands on the old side alone. */
export function lineOf(change: ChangeData, side: 'old' | 'new' = 'new'): DiffLine {
  if (change.type === 'insert') return { side: 'new', line: change.lineNumber }
  if (change.type === 'delete') return { side: 'old', line: change.lineNumber }
  return side === 'old' ? { side, line: change.oldLineNumber } : { side, line: change.newLineNumber }
}

/** The key by which the diff knows a line (as `getChangeKey` makes it); null where the diff does not show it. */
export function keyOfLine(file: FileData, { side, line }: DiffLine): string | null {
  for (const hunk of file.hunks)
    for (const change of hunk.changes) {
      if (change.type === 'insert' && side === 'new' && change.lineNumber === line) return `I${line}`
      if (change.type === 'delete' && side === 'old' && change.lineNumber === line) return `D${line}`
      if (change.type === 'normal' && (side === 'new' ? change.newLineNumber : change.oldLineNumber) === line)
        return `N${change.oldLineNumber}`
    }
  return null
}

/** The path of a file after the change; before it, where it was taken out. */
export function pathOfFile(file: FileData): string {
  return file.type === 'delete' ? file.oldPath : file.newPath
}

/** How many lines came and went. */
export function countsOf(file: FileData): { added: number; removed: number } {
  const changes = file.hunks.flatMap((hunk) => hunk.changes)
  return { added: changes.filter(({ type }) => type === 'insert').length, removed: changes.filter(({ type }) => type === 'delete').length }
}
