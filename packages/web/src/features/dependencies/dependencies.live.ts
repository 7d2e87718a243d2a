import type { DependenciesEvents } from '@dystracer/core/dependencies/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of what releases are made of make stale, beside the things that they are about. */
export const dependenciesLive: Refreshes<DependenciesEvents> = {
  'bill-received': { always: ['Release'] },
  'bill-taken-back': { always: ['Release'] },
}
