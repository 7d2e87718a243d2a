import type { BulkDone, ChangeItem } from '@dystracer/core/items/wire'
import { toast } from 'sonner'
import { useBulkMutation } from './looking.api'
import { useUndoBulkMutation, useUndoMutation } from '#features/undo/undo.api'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'

/** The entries of the last bulk change, whichever way of looking it was made in. */
let lastSeqs: readonly number[] = []

/** Changing many items alike; one undo takes all of the last such change back, and where there is none, one's own last change. */
export function useBulkChange() {
  const [bulk, { isLoading }] = useBulkMutation()
  const [undoBulk] = useUndoBulkMutation()
  const [undo] = useUndoMutation()

  const sayRefused = ({ refused }: BulkDone) => {
    if (refused.length > 0) toast.error(`${plural(refused.length, 'item')} stayed as it was: ${refused[0]?.key}: ${refused[0]?.why}`)
  }
  const takeBackMany = async (seqs: readonly number[]): Promise<void> => {
    lastSeqs = []
    const result = await undoBulk({ seqs })
    if (result.error) return void toast.error(problemText(result.error))
    sayRefused(result.data)
    // Not under the same id: a message whose button was pressed is on its way out, and takes along what is put into it.
    toast.dismiss('bulk')
    toast.success(`${plural(result.data.changed, 'item')} as before`)
  }
  return {
    isLoading,
    /** Changes them and says what came of it; whether it went through. */
    async run(keys: string[], change: ChangeItem, said: string): Promise<boolean> {
      const result = await bulk({ keys, change })
      if (result.error) {
        toast.error(problemText(result.error))
        return false
      }
      const { changed, seqs } = result.data
      sayRefused(result.data)
      lastSeqs = seqs
      toast.success(changed === 0 && result.data.refused.length === 0 ? 'They stood so already' : `${plural(changed, 'item')} ${said}`, {
        id: 'bulk',
        ...(seqs.length > 0 && { action: { label: 'Undo', onClick: () => void takeBackMany(seqs) } }),
      })
      return true
    },
    async takeBack(): Promise<void> {
      if (lastSeqs.length > 0) return takeBackMany(lastSeqs)
      const result = await undo({})
      if (result.error) return void toast.error(problemText(result.error))
      toast.success(`Your last change of ${result.data.key} is taken back`)
    },
  }
}
