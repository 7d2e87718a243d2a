import type { CasesEvents } from '@dystracer/core/cases/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of tests by hand make stale, beside the things that they are about. */
export const casesLive: Refreshes<CasesEvents> = {
  'case-written': { always: ['Case', 'Requirement'] },
  'case-retired': { always: ['Case', 'Requirement'] },
  'test-plan-made': { always: ['Case'] },
  'test-plan-changed': { always: ['Case'] },
  'test-done': { always: ['Case', 'Requirement'] },
  'test-plan-signed': { always: ['Case'] },
}
