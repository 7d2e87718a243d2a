import type { QualityEvents } from '@dystracer/core/quality/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of quality rules make stale, beside the things that they are about. */
export const qualityLive: Refreshes<QualityEvents> = {
  'quality-rules-set': { always: ['IntakeRule'] },
  'quality-rule-fired': { always: ['IntakeRule'] },
}
