import { groupBy } from '@dystracer/core/basics/group-by'
import type { Reactions } from '@dystracer/core/talk/wire'

/** Rows of who reacted how, as one entry for each reaction. */
export function gatherReactions(rows: readonly { reaction: string; personId: string }[]): Reactions {
  return [...groupBy(rows, ({ reaction }) => reaction)].map(([reaction, given]) => ({
    reaction,
    personIds: given.map(({ personId }) => personId),
  }))
}
