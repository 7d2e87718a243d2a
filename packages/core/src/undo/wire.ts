import { zBulkDone } from '#items/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

/** The journal entries that are to be taken back together. */
export const zBulkUndo = z.strictObject({ seqs: z.array(z.number().int().positive()).min(1).max(5000) })
/** The journal entry to take back; without one the asker's last. */
export const zUndo = z.strictObject({ seq: z.number().int().optional() })
/** What was taken back, in words. */
export const zUndone = z.object({ key: z.string(), said: z.string() })

/** What can be asked of undo. */
export const undoOperations = {
  undoMany: operation({
    method: 'post',
    path: '/items-bulk/undo',
    summary: 'Take a change of many items back, all at once',
    may: 'items.change',
    about: 'nothing',
    body: zBulkUndo,
    answer: zBulkDone,
  }),
  undo: operation({
    method: 'post',
    path: '/undo',
    summary: 'Take back one’s own last change, or the one named',
    may: 'items.change',
    about: 'nothing',
    body: zUndo,
    answer: zUndone,
  }),
}
