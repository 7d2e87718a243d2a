import type { RequirementsEvents } from '@dystracer/core/requirements/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of requirements make stale, beside the things that they are about. */
export const requirementsLive: Refreshes<RequirementsEvents> = {
  'requirement-written': {},
  'links-confirmed': { always: ['Requirement'] },
  'gap-agreed': { always: ['Requirement'] },
  'baseline-made': { always: ['Requirement'] },
  'baseline-agreed': { always: ['Requirement'] },
  'baseline-withdrawn': { always: ['Requirement'] },
  'gap-reopened': { always: ['Requirement'] },
  'requirement-placed': {},
  'requirement-described': {},
  'requirement-attributes-defined': { always: ['Requirement'] },
  'writing-accepted': { always: ['Requirement'] },
  'requirement-document-kept': {},
  'requirements-related': {},
  'requirements-unrelated': {},
  'requirement-picture-kept': {},
  'requirement-retired': {},
  'requirement-restored': {},
}
