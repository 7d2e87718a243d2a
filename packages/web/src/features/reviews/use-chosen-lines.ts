import { useMemo, useState } from 'react'
import type { FileData } from 'react-diff-view'
import { keyOfLine, lineOf, pathOfFile, type DiffLines } from '#shared/diff/DiffFile'

/** Lines of a file of the change. */
export interface Place extends DiffLines {
  path: string
}

/** The lines of a change that keys and remarks act on: from change to change, to a click, and a line more or fewer. */
export function useChosenLines(files: readonly FileData[]) {
  const [selected, setSelected] = useState<Place | null>(null)
  const blocks = useMemo(() => files.flatMap(blocksOf), [files])
  return {
    selected,
    choose: (to: Place, isMore: boolean) => setSelected(reaching(selected, to, isMore)),
    /** To the next change or the one before, which is brought into sight. */
    step: (by: 1 | -1) => {
      const at = selected ? blocks.findIndex((block) => isSame(block, selected)) : -1
      const next = blocks[at < 0 ? (by > 0 ? 0 : blocks.length - 1) : Math.min(Math.max(at + by, 0), blocks.length - 1)]
      if (!next) return
      setSelected(next)
      document
        .getElementById(domIdOf(next.path))
        ?.querySelector(`[data-change-key="${keyOf(files, next)}"]`)
        ?.scrollIntoView({ block: 'center' })
    },
    /** One line more, or fewer, at the end of those that are chosen, as far as the diff goes. */
    extend: (by: 1 | -1) => {
      const file = files.find((each) => pathOfFile(each) === selected?.path)
      const lastLine = (selected?.lastLine ?? 0) + by
      if (!selected || !file || lastLine < selected.line || keyOfLine(file, { side: selected.side, line: lastLine }) === null) return
      setSelected({ ...selected, lastLine })
    },
  }
}

/** The lines chosen anew, or (`isMore`) all from those chosen before to the new one, where both are of one side of one file. */
function reaching(before: Place | null, to: Place, isMore: boolean): Place {
  if (!isMore || before === null || before.path !== to.path || before.side !== to.side) return to
  return { ...to, line: Math.min(before.line, to.line), lastLine: Math.max(before.lastLine, to.line) }
}

/** The first line of each run of changed lines. */
function blocksOf(file: FileData): Place[] {
  return file.hunks.flatMap((hunk) =>
    hunk.changes.flatMap((change, at) =>
      change.type !== 'normal' && (hunk.changes[at - 1]?.type ?? 'normal') === 'normal'
        ? [{ ...lineOf(change), lastLine: lineOf(change).line, path: pathOfFile(file) }]
        : [],
    ),
  )
}

function isSame(a: Place, b: Place): boolean {
  return a.path === b.path && a.side === b.side && a.line === b.line
}

function keyOf(files: readonly FileData[], place: Place): string {
  const file = files.find((each) => pathOfFile(each) === place.path)
  return (file && keyOfLine(file, place)) ?? ''
}

/** The id of a file's figure on the page. */
export function domIdOf(path: string): string {
  return `file-${path.replace(/\W/g, '-')}`
}
