import type { TiesEvents } from '@dystracer/core/ties/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of ties make stale, beside the things that they are about. */
export const tiesLive: Refreshes<TiesEvents> = {
  'commit-excused': { always: ['Tie'] },
  'tie-decided': { always: ['Tie', 'Code'] },
}
