import type { KeyboardEvent } from 'react'
import type { FileData } from 'react-diff-view'
import { pathOfFile } from '#shared/diff/DiffFile'
import { actionOf } from '#shared/lib/keys'
import type { useChosenLines } from './use-chosen-lines'
import type { useSeenFiles } from './use-seen-files'

/** What the keys of a change's files act on. */
export interface ReviewKeys {
  files: readonly FileData[]
  lines: Pick<ReturnType<typeof useChosenLines>, 'selected' | 'step' | 'extend'>
  seen: ReturnType<typeof useSeenFiles>
  canWrite: boolean
  /** Whether a verdict can be given now. */
  canJudge: boolean
  onWriting: (isWriting: boolean) => void
  onVerdict: (verdict: 'agreed' | 'changes-asked') => void
}

/** The keys by which a change is read: from change to change, more lines, a remark, seen, a verdict. */
export function reviewKeys({ files, lines, seen, canWrite, canJudge, onWriting, onVerdict }: ReviewKeys) {
  const { selected, step, extend } = lines
  return (event: KeyboardEvent<HTMLElement>): void => {
    const action = actionOf('review', event)
    if (action === null) return
    event.preventDefault()
    if (action === 'more') extend(event.key === 'ArrowDown' ? 1 : -1)
    else if (action === 'next' || action === 'previous') {
      step(action === 'next' ? 1 : -1)
      onWriting(false)
    } else if (action === 'remark' && selected && canWrite) onWriting(true)
    else if (action === 'seen') {
      const file = files.find((each) => pathOfFile(each) === selected?.path) ?? files.find((each) => !seen.isSeen(each))
      if (file) seen.turn(file)
    } else if (canJudge && action === 'agree') onVerdict('agreed')
    else if (canJudge && action === 'askChanges') onVerdict('changes-asked')
  }
}
