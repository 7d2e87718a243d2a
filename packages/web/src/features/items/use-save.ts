import type { ProblemDetails } from '@dystracer/core/basics/wire'
import type { ChangeItem, Item } from '@dystracer/core/items/wire'
import { toast } from 'sonner'
import { useChangeItemMutation } from './items.api'
import { problemText } from '#shared/lib/problem-text'

export type SaveItem = (change: ChangeItem) => Promise<boolean>

/** Saves single fields as they are chosen (the last one wins, and the history shows both); true when it is in. */
export function useSave(item: Pick<Item, 'key'>): SaveItem {
  const [change] = useChangeItemMutation()
  return async (fields) => {
    const result = await change({ key: item.key, change: fields })
    if (result.error) toast.error(problemText(result.error))
    return !result.error
  }
}

/** Saves a text against the revision that was edited; `conflict` tells that someone changed the item since. */
export function useSaveText(
  item: Pick<Item, 'key' | 'revision'>,
): (change: ChangeItem, revision: number) => Promise<'saved' | 'conflict' | 'failed'> {
  const [change] = useChangeItemMutation()
  return async (fields, revision) => {
    const result = await change({ key: item.key, change: fields, revision })
    if (!result.error) return 'saved'
    if ((result.error as ProblemDetails).code === 'changed-meanwhile') return 'conflict'
    toast.error(problemText(result.error))
    return 'failed'
  }
}
