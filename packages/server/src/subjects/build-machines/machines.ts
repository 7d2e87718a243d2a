import type { BuildMachine } from '@dystracer/core/build-machines/wire'
import { slot } from '#platform/context'

/** A machine that was not heard of for so long is not here. */
const HERE_MS = 60_000
/** More names than this are no machines of a team; the ones that were not heard of for the longest are forgotten. */
const MACHINES_MAX = 500

/** A machine as it last spoke. */
export interface SeenMachine {
  name: string
  lastSeenAtMs: number
  repositories: readonly string[]
  wantedId: string | null
}

/** Who asks for builds since the server started, in memory: that a machine asked is nothing to keep. */
export class Machines {
  readonly #seen = new Map<string, SeenMachine>()
  readonly startedAtMs: number

  constructor(startedAtMs: number) {
    this.startedAtMs = startedAtMs
  }

  see(machine: SeenMachine): void {
    const before = this.#seen.get(machine.name)
    this.#seen.delete(machine.name)
    this.#seen.set(machine.name, {
      ...machine,
      repositories: machine.repositories.length > 0 ? machine.repositories : (before?.repositories ?? []),
    })
    const [oldest] = this.#seen.keys()
    if (this.#seen.size > MACHINES_MAX && oldest !== undefined) this.#seen.delete(oldest)
  }

  /** When somebody spoke of a build last; the start of the server where nobody has since. */
  lastWordOf(wantedId: string): number {
    const words = [...this.#seen.values()].filter((machine) => machine.wantedId === wantedId).map((machine) => machine.lastSeenAtMs)
    return Math.max(this.startedAtMs, ...words)
  }

  /** By name. */
  list(nowMs: number): BuildMachine[] {
    return [...this.#seen.values()]
      .map((machine) => ({ ...machine, repositories: [...machine.repositories], isHere: nowMs - machine.lastSeenAtMs <= HERE_MS }))
      .sort((one, other) => (one.name < other.name ? -1 : 1))
  }
}

/** The machines that ask this server. */
export const MACHINES = slot('build machines', (ctx) => new Machines(ctx.nowMs()))
