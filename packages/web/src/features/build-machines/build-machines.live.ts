import type { BuildMachinesEvents } from '@dystracer/core/build-machines/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of wanted builds make stale, beside the things that they are about. */
export const buildMachinesLive: Refreshes<BuildMachinesEvents> = {
  'build-wanted': { always: ['Build'] },
  'build-taken': { always: ['Build'] },
  'build-stop-wanted': { always: ['Build'] },
  'wanted-build-ended': { always: ['Build'] },
}
