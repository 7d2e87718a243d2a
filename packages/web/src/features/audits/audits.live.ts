import type { AuditsEvents } from '@dystracer/core/audits/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of kept reports make stale. */
export const auditsLive: Refreshes<AuditsEvents> = {
  'audit-reports-scheduled': { always: ['Requirement'] },
  'audit-report-kept': { always: ['Requirement'] },
}
