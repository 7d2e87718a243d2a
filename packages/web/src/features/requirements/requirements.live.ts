import type { RequirementsEvents } from '@dystracer/core/requirements/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of requirements make stale, beside the things that they are about. */
export const requirementsLive: Refreshes<RequirementsEvents> = {
  'requirement-written': {},
  'requirement-placed': {},
  'requirement-retired': {},
  'requirement-restored': {},
}
