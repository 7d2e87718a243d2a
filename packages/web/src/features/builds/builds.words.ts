import type { BuildsEvents } from '@dystracer/core/builds/events'
import type { EventWords } from '#shared/lib/event-words'

export const buildsWords: EventWords<BuildsEvents> = {
  'build-started': ({ number }) => `began build ${number}`,
  'build-finished': ({ number, state }) => `finished build ${number}: ${state}`,
  'tests-reported': ({ build }) => `reported the tests of build ${build}`,
}
