import { type Stage, stageRank } from '@dystracer/core/ladder/ladder'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import type { Move } from './move-ladders.js'
import type { ServiceContext } from '#platform/context'
import { notify } from '#subjects/inbox/index'
import { GET_ITEM_BY_KEY } from './item-news.queries.js'

const STAGE_NAME: Record<Stage, string> = {
  logged: 'Logged',
  accepted: 'Accepted',
  underway: 'Underway',
  'in-review': 'In review',
  merged: 'Merged',
  released: 'Released',
  verified: 'Verified',
}

interface Told {
  owner_id: string | null
  co_owner_ids: string
  keeper_id: string | null
}

/**
 * Tells owners that their item moved, and the component's keeper when it waits for a review; nobody is told of what they did themselves.
 */
export function tellOfMoves(ctx: Pick<ServiceContext, 'db' | 'newId'>, writer: JournalWriter, moves: readonly Move[], actor: string): void {
  const by = { actor, personId: actor.startsWith('person:') ? actor.slice('person:'.length) : null }
  for (const { key, from, to, hasComeBack } of moves) {
    if (from === null || (from === to && !hasComeBack)) continue
    const row = sql(ctx.db, GET_ITEM_BY_KEY).get<Told>({ key })
    if (!row) continue
    const owners = [row.owner_id, ...(JSON.parse(row.co_owner_ids) as string[])]
    const words = hasComeBack
      ? 'It came back: it was seen again in a release that holds its fix.'
      : `${STAGE_NAME[to]} now, ${STAGE_NAME[from]} before.`
    notify(ctx, writer, { key, by, personIds: owners, why: 'moved', words })
    if (to === 'in-review' && stageRank(from) < stageRank(to) && !owners.includes(row.keeper_id))
      notify(ctx, writer, { key, by, personIds: [row.keeper_id], why: 'review', words: 'A pull request for it waits for a review.' })
  }
}
