import type { ChangePart, WholeChange, WholeStrand } from '@dystracer/core/whole-change/wire'
import { parseDiff, type FileData } from 'react-diff-view'
import { pathOfFile } from '#shared/diff/DiffFile'

/** A file of the whole change: of which repository, which commits made it so, and its lines. */
export interface PlacedFile {
  part: ChangePart
  strand: WholeStrand
  file: FileData
  /** The same under a path that no other file of the whole has: keys go from one to the next by it. */
  placed: FileData
  /** Whether others changed the file between what an earlier one of this path shows and this. */
  isAgain: boolean
}

/** The files of the whole in the order in which they are read: by repository, what was changed once more after others last. */
export function placeFiles({ parts }: Pick<WholeChange, 'parts'>): PlacedFile[] {
  return parts.flatMap((part) =>
    part.sheets.flatMap(({ diff }, sheet) =>
      parseDiff(diff).flatMap((file): PlacedFile[] => {
        const path = pathOfFile(file)
        const strand = part.strands.find((each) => each.sheet === sheet && each.path === path)
        if (!strand) return []
        const prefix = `${part.repository}:${sheet}/`
        const placed = { ...file, oldPath: prefix + file.oldPath, newPath: prefix + file.newPath }
        return [{ part, strand, file, placed, isAgain: sheet > 0 }]
      }),
    ),
  )
}

/** Whether the left side, too, is as whoever would hear a remark on it has it: then lines of both sides can be remarked on. */
export function hasSameLeft({ part, strand }: PlacedFile): boolean {
  if (strand.pullRequest === null) return strand.shas.length === 1
  const of = new Map(part.commits.map(({ sha, pullRequest }) => [sha, pullRequest]))
  return strand.shas.every((sha) => of.get(sha) === strand.pullRequest)
}
