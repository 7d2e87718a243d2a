import type { BuildsEvents } from '@dystracer/core/builds/events'
import type { EventWords } from '#shared/lib/event-words'

export const buildsWords: EventWords<BuildsEvents> = {
  'build-started': ({ number }) => `began build ${number}`,
  'build-finished': ({ number, state }) => `finished build ${number}: ${state ?? 'nobody said how'}`,
  'build-named': ({ name }) => `called a build ${name}`,
  'build-step-told': ({ build, name, outcome }) => `told of the step ${name} of build ${build}${outcome ? `: ${outcome}` : ''}`,
  'coverage-reported': ({ build }) => `reported what the tests of build ${build} covered`,
  'findings-reported': ({ sha }) => `reported findings about ${sha.slice(0, 7)}`,
  'failure-taken': ({ name, personId }, nameOf) => (personId ? `${nameOf(personId)} is on “${name}”` : `nobody is on “${name}” any more`),
  'test-set-aside': ({ name, untilDay, why }) => (untilDay ? `set “${name}” aside until ${untilDay}: ${why}` : `counts “${name}” again`),
  'artefact-told': ({ name, version, state }) => `told that ${name} ${version ?? ''} was ${state}`,
  'tests-reported': ({ build }) => `reported the tests of build ${build}`,
}
