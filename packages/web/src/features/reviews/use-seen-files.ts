import { useState } from 'react'
import type { FileData } from 'react-diff-view'
import { pathOfFile } from '#shared/diff/DiffFile'

const PREFIX = 'seen/'

/** A short text that changes with what a file's diff shows; for telling change from sameness, not for secrets. */
function sumOf(file: FileData): string {
  let sum = 5381
  for (const hunk of file.hunks)
    for (const change of hunk.changes) for (const char of change.type[0] + change.content) sum = (sum * 33 + char.charCodeAt(0)) | 0
  return String(sum)
}

/** Which files one has seen, in this browser: the mark falls as soon as the file's change is another. */
export function useSeenFiles(id: string): { isSeen: (file: FileData) => boolean; turn: (file: FileData) => void } {
  const [, redraw] = useState(0)
  const nameOf = (file: FileData) => `${PREFIX}${id}/${pathOfFile(file)}`
  const isSeen = (file: FileData) => localStorage.getItem(nameOf(file)) === sumOf(file)
  return {
    isSeen,
    turn: (file) => {
      if (isSeen(file)) localStorage.removeItem(nameOf(file))
      else localStorage.setItem(nameOf(file), sumOf(file))
      redraw((count) => count + 1)
    },
  }
}
