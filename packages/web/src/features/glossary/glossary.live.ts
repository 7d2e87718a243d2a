import type { GlossaryEvents } from '@dystracer/core/glossary/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of the glossary make stale. */
export const glossaryLive: Refreshes<GlossaryEvents> = {
  'term-set': { always: ['Requirement'] },
  'term-removed': { always: ['Requirement'] },
}
