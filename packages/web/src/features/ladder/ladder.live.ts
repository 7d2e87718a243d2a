import type { LadderEvents } from '@dystracer/core/ladder/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of ladder make stale, beside the things that they are about. */
export const ladderLive: Refreshes<LadderEvents> = {
  'ladder-moved': { item: ['Triage'] },
}
