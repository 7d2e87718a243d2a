import type { ExploringEvents } from '@dystracer/core/exploring/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of explorations make stale, beside the things that they are about. */
export const exploringLive: Refreshes<ExploringEvents> = {
  'exploration-begun': { always: ['Case'] },
  'exploration-changed': { always: ['Case'] },
  'exploration-point-set': { always: ['Case'] },
  'exploration-clock-set': { always: ['Case'] },
  'exploration-noted': { always: ['Case'] },
  'exploration-note-removed': { always: ['Case'] },
  'exploration-ended': { always: ['Case'] },
}
