import type { TrendsEvents } from '@dystracer/core/trends/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of trends make stale, beside the things that they are about. */
export const trendsLive: Refreshes<TrendsEvents> = {
  'pinned-charts-set': { always: ['Views'] },
}
