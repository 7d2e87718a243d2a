import type { Logger } from 'pino'

export interface Job {
  /** What it does, for the log. */
  name: string
  everyMs: number
  run: () => unknown
  /** Told of a failure before it is logged; true when it was dealt with. */
  onTrouble?: (error: unknown) => boolean
}

/**
 * Every round that the server makes by itself. A round never overlaps with its next, a failure is logged and tried again with the next
 * round and never ends
 * the process, and a stop waits for what is under way.
 */
export class Jobs {
  readonly #log: Pick<Logger, 'error'>
  readonly #timers = new Map<Job, NodeJS.Timeout>()
  readonly #running = new Set<Promise<void>>()
  #isStopped = false

  constructor(log: Pick<Logger, 'error'>) {
    this.#log = log
  }

  /** Begins the rounds of a job, the first after its interval; gives what ends them. */
  every(job: Job): () => void {
    this.#plan(job)
    return () => {
      clearTimeout(this.#timers.get(job))
      this.#timers.delete(job)
    }
  }

  /** Runs a job now, beside its rounds; for what cannot wait. Never rejects. */
  async once(job: Pick<Job, 'name' | 'run' | 'onTrouble'>): Promise<void> {
    const work = this.#attempt(job)
    this.#running.add(work)
    await work
    this.#running.delete(work)
  }

  /** Begins nothing any more, and waits for what is under way. */
  async stop(): Promise<void> {
    this.#isStopped = true
    for (const timer of this.#timers.values()) clearTimeout(timer)
    this.#timers.clear()
    await Promise.all(this.#running)
  }

  #plan(job: Job): void {
    if (this.#isStopped) return
    const timer = setTimeout(() => {
      void this.once(job).then(() => {
        // One that was ended meanwhile is not planned again.
        if (this.#timers.get(job) === timer) this.#plan(job)
      })
    }, job.everyMs)
    this.#timers.set(job, timer)
  }

  async #attempt({ name, run, onTrouble }: Pick<Job, 'name' | 'run' | 'onTrouble'>): Promise<void> {
    try {
      await run()
    } catch (error) {
      if (!onTrouble?.(error)) this.#log.error({ err: error }, `${name} failed; it is tried again in its next round`)
    }
  }
}
