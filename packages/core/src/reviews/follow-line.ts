/** A piece of a change of one file: so many lines from `oldStart` became so many from `newStart` (as `git diff -U0` writes them). */
export interface ChangedPiece {
  oldStart: number
  oldLines: number
  newStart: number
  newLines: number
}

const HEAD = /^@@ -(\d+)(?:,(\d+))? \+(\d+)(?:,(\d+))? @@/gm

/** The pieces of a unified diff of one file without context, in their order. */
export function readPieces(diff: string): ChangedPiece[] {
  return [...diff.matchAll(HEAD)].map(([, oldStart, oldLines = '1', newStart, newLines = '1']) => ({
    oldStart: Number(oldStart),
    oldLines: Number(oldLines),
    newStart: Number(newStart),
    newLines: Number(newLines),
  }))
}

/**
 * Where a line stands after a file was changed; null where it was itself changed or taken out. Pieces ascend. A piece without old lines
 * comes after the line that it names (git's way to write an insertion). O(pieces before the line).
 *
 * @example followLine(10, [{ oldStart: 3, oldLines: 0, newStart: 4, newLines: 2 }]) // 12
 */
export function followLine(line: number, pieces: readonly ChangedPiece[]): number | null {
  let shift = 0
  for (const { oldStart, oldLines, newLines } of pieces) {
    const isBefore = oldLines === 0 ? line <= oldStart : line < oldStart
    if (isBefore) break
    if (oldLines > 0 && line < oldStart + oldLines) return null
    shift += newLines - oldLines
  }
  return line + shift
}
