import type { BuildsEvents } from '@dystracer/core/builds/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of builds make stale, beside the things that they are about. */
export const buildsLive: Refreshes<BuildsEvents> = {
  'build-started': {},
  'build-finished': {},
  'build-named': {},
  'build-step-told': {},
  'tests-reported': {},
  'coverage-reported': {},
  'findings-reported': {},
  'artefact-told': { always: ['Release'] },
  'failure-taken': {},
  'test-set-aside': { always: ['Build', 'Code'] },
}
