import { firstProjectWhere } from '#subjects/setup/index'
import { likenessWorker } from './likeness.client.js'
import { worthShowing } from '@dystracer/core/likeness/likeness-index'
import { whyAlike } from '@dystracer/core/likeness/why-alike'
import type { LookAlike } from '@dystracer/core/likeness/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { listItemsByKeys, onlyVisible } from '#subjects/records/index'

const SHOWN_MAX = 5
/** Confidential look-alikes are left out after the ranking, so a few more are asked for. */
const ASKED_FOR = 12

/**
 * Items that look like what is being written, best first, with the words that say why. Confidential ones show only to those who may see
 * them.
 */
export async function findLookAlikes(
  ctx: ServiceContext,
  who: Who,
  input: { title: string; text: string; project?: string | undefined; component?: string | undefined; key?: string },
): Promise<LookAlike[]> {
  if (`${input.title}${input.text}`.trim().length < 4) return []
  const ranked = await likenessWorker(ctx).call('find', {
    text: {
      id: input.key ?? '',
      title: input.title,
      text: input.text,
      scope: input.project ?? firstProjectWhere(ctx.db, who, 'project.read') ?? '',
      component: input.component ?? null,
    },
    limit: ASKED_FOR,
  })
  const rows = onlyVisible(
    ctx.db,
    who,
    listItemsByKeys(
      ctx.db,
      ranked.map((hit) => hit.id),
    ),
  )
  const byKey = new Map(rows.map((item) => [item.key, item]))
  // Measured against the best that may be seen: one that is hidden must not show by what is missing.
  return worthShowing(ranked.filter((hit) => byKey.has(hit.id)))
    .flatMap((hit) => {
      const item = byKey.get(hit.id)
      const { id: _, score: _score, ...why } = hit
      return item && whyAlike(why) !== '' ? [{ item, ...why }] : []
    })
    .slice(0, SHOWN_MAX)
}
