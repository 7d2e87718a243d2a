import type { SetupEvents } from '@dystracer/core/setup/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of setup make stale, beside the things that they are about. */
export const setupLive: Refreshes<SetupEvents> = {
  'project-created': {},
  'project-renamed': { always: ['Me'] },
  'prefix-taken': { always: ['Me'] },
  'component-added': { always: ['Me'] },
  'component-removed': { always: ['Me'] },
  'type-defined': {},
  'own-field-defined': {},
  'type-removed': {},
  'own-field-removed': {},
  'own-fields-ordered': {},
  'milestone-set': {},
  'milestone-removed': {},
  'label-coloured': {},
  'stage-rule-set': {},
  'setting-changed': { always: ['Me'] },
}
