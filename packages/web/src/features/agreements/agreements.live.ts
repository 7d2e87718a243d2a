import type { AgreementsEvents } from '@dystracer/core/agreements/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of agreements make stale, beside the things that they are about. */
export const agreementsLive: Refreshes<AgreementsEvents> = {
  'agreement-asked': { always: ['Requirement', 'Overview'] },
  'agreement-changed': { always: ['Requirement', 'Overview'] },
  'requirements-agreed': { always: ['Requirement', 'Overview'] },
  'agreement-remarked': { always: ['Requirement'] },
  'agreement-remark-settled': { always: ['Requirement'] },
  'agreement-ended': { always: ['Requirement', 'Overview'] },
}
