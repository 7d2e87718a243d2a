import type { CodeEvents } from '@dystracer/core/code/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of code make stale, beside the things that they are about. */
export const codeLive: Refreshes<CodeEvents> = {
  'repository-added': {},
  'repository-disconnected': {},
  'main-lines-chosen': { always: ['Code', 'Build'] },
  'refs-moved': {},
  'pull-request-seen': {},
}
