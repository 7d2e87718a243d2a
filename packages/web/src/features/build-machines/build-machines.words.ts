import type { BuildMachinesEvents } from '@dystracer/core/build-machines/events'
import type { EventWords } from '#shared/lib/event-words'
import { ENDED_WORDS } from './wanted-words'

export const buildMachinesWords: EventWords<BuildMachinesEvents> = {
  'build-wanted': ({ branch, sha, again, isByPush }) =>
    again !== null
      ? `wants build ${again} again`
      : `${isByPush ? 'brought' : 'wants a build of'} ${branch || sha.slice(0, 7)}${isByPush ? ', which starts a build' : ''}`,
  'build-taken': ({ machine, number }) => `gave build ${number} to ${machine}`,
  'build-stop-wanted': () => 'wants the build stopped',
  'wanted-build-ended': ({ outcome }) => `ended a wanted build: ${ENDED_WORDS[outcome]}`,
}
