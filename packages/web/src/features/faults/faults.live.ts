import type { FaultsEvents } from '@dystracer/core/faults/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of faults make stale, beside the things that they are about. */
export const faultsLive: Refreshes<FaultsEvents> = {
  'scrub-rule-added': { always: ['Me'] },
  'scrub-rule-removed': { always: ['Me'] },
  'rule-added': { always: ['IntakeRule'] },
  'rule-changed': { always: ['IntakeRule'] },
  'rule-removed': { always: ['IntakeRule'] },
  'fault-merged': {},
  'fault-unmerged': {},
  'fault-split': {},
  'fault-reread': {},
  'fault-found': {},
  'fault-in-release': {},
  'rules-ordered': { always: ['IntakeRule'] },
  'intake-budget-set': { always: ['IntakeRule'] },
  'rule-fired': { always: ['IntakeRule'] },
  'fault-acted': {},
  'fault-item-untied': {},
}
