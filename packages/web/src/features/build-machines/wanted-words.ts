import type { WantedOutcome } from '@dystracer/core/build-machines/events'
import type { WantedBuild } from '@dystracer/core/build-machines/wire'

/** How a wanted build ended, in words. */
export const ENDED_WORDS: Record<WantedOutcome, string> = {
  passed: 'passed',
  broke: 'broke',
  stopped: 'was stopped',
  lost: 'its machine was not heard of any more',
  replaced: 'a newer push is built instead',
}

/** How a wanted build stands, in words. */
export function stateWords({ state, machine, outcome }: WantedBuild, isMachineHere: boolean): string {
  switch (state) {
    case 'waiting':
      return isMachineHere ? 'waits for its turn' : 'waits: no build machine asks for it'
    case 'running':
      return `runs on ${machine ?? 'a machine'}`
    case 'stopping':
      return `is being stopped on ${machine ?? 'its machine'}`
    case 'ended':
      return outcome === null ? 'ended' : ENDED_WORDS[outcome]
  }
}

/** Whether some machine asks for builds of a repository. */
export function isAskedFor(repository: string, machines: readonly { isHere: boolean; repositories: readonly string[] }[]): boolean {
  return machines.some((machine) => machine.isHere && (machine.repositories.length === 0 || machine.repositories.includes(repository)))
}
