import type { FindingsEvents } from '@dystracer/core/findings/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of findings make stale, beside the things that they are about. */
export const findingsLive: Refreshes<FindingsEvents> = {
  'finding-set-aside': { always: ['Build', 'Code'] },
}
