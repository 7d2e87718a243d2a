import type { TriageEvents } from '@dystracer/core/triage/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of triage make stale, beside the things that they are about. */
export const triageLive: Refreshes<TriageEvents> = {
  'item-accepted': { item: ['Items', 'Triage'] },
  'item-rejected': { item: ['Items', 'Triage'] },
  'acceptance-withdrawn': { item: ['Items', 'Triage'] },
  'item-merged': {},
  'item-split': {},
  'reporter-asked': { item: ['Triage'] },
  'reporter-answered': { item: ['Triage'] },
  'asking-ended': { item: ['Triage'] },
  'triage-decided': {},
}
