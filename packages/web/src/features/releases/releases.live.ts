import type { ReleasesEvents } from '@dystracer/core/releases/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of releases make stale, beside the things that they are about. */
export const releasesLive: Refreshes<ReleasesEvents> = {
  'service-added': { always: ['Release', 'Fault'] },
  'service-changed': { always: ['Release', 'Fault'] },
  'environment-changed': { always: ['Release'] },
  'environment-removed': { always: ['Release'] },
  'environment-added': { always: ['Release'] },
  'release-found': {},
  'release-withdrawn': { always: ['Release'] },
  'deployment-asked': { always: ['Overview'] },
  'deployment-approved': { always: ['Release'] },
  'deployment-failed': { always: ['Release'] },
  'notes-published': { always: ['Release'] },
  'notes-withdrawn': { always: ['Release'] },
  'release-note-written': { always: ['Release'] },
  'deployment-seen': {},
  'deployment-taken-back': {},
}
