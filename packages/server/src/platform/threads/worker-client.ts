import type { TransferListItem } from 'node:worker_threads'
import { Problem } from '@dystracer/core/basics/problem'
import { startRunner, type Runner, type RunnerPlan } from './runner.js'
import type { AnswerMessage, CallMessage, NoticeMessage, ProgressMessage } from './serve-calls.js'

export interface WorkerPlan extends RunnerPlan {
  name: string
}

export type MethodTable<Methods> = { [Name in keyof Methods]: { input: unknown; output: unknown } }
type Message = AnswerMessage | NoticeMessage | ProgressMessage
interface Waiting {
  resolve: (value: never) => void
  reject: (error: Error) => void
  timer: NodeJS.Timeout | undefined
  onProgress: (progress: string) => void
}
/** A thread that ended is started again after so long, twice as long each time up to the most; one that ran a while begins anew. */
const RESTART_MIN_MS = 100
const RESTART_MAX_MS = 30_000
const STEADY_MS = 60_000
/** A call that is not answered in this time is given up; git fetches of large repositories say a longer one. */
const DEADLINE_MS = 120_000
/** So long a stop waits for what is under way. */
const DRAIN_MS = 20_000

/**
 * A worker, a thread or a process of its own, seen from the main thread: typed calls with a deadline; the first starts it. A thread that
 * dies rejects what was in flight with `busy` (the sender may come again), is started anew with back-off, and
 * says so in `trouble` until it runs; nothing waits for ever.
 */
export class WorkerClient<Methods extends MethodTable<Methods>> {
  readonly name: string
  readonly #plan: WorkerPlan
  #worker: Runner | null = null
  readonly #pending = new Map<number, Waiting>()
  #nextCallId = 1
  #restartTimer: NodeJS.Timeout | undefined
  #delayMs = RESTART_MIN_MS
  #startedAtMs: number | null = null
  #isStopping = false
  #isRenewing = false
  #ended: Promise<void> = Promise.resolve()
  restarts = 0
  /** Why the thread does not run; null while it does. */
  trouble: string | null = null
  onNotice: (notice: string) => void = () => {}

  constructor(plan: WorkerPlan) {
    this.name = plan.name
    this.#plan = plan
  }

  /** Whether the thread was ever asked to run: one that was not knows nothing that could be out of date. */
  get hasStarted(): boolean {
    return this.#startedAtMs !== null
  }

  /** Starts the thread unless it has been; the first call does so, too. */
  start(): void {
    if (this.#startedAtMs === null) this.#start()
  }

  get underWay(): number {
    return this.#pending.size
  }

  call<Name extends keyof Methods & string>(
    method: Name,
    input: Methods[Name]['input'],
    {
      transfer = [],
      deadlineMs = DEADLINE_MS,
      onProgress = () => {},
    }: { transfer?: TransferListItem[]; deadlineMs?: number; onProgress?: (progress: string) => void } = {},
  ): Promise<Methods[Name]['output']> {
    if (!this.#isStopping) this.start()
    const worker = this.#worker
    if (!worker) return Promise.reject(this.#unavailable())
    const callId = this.#nextCallId++
    return new Promise((resolve, reject) => {
      const timer = setTimeout(() => {
        this.#pending.delete(callId)
        reject(
          new Problem('busy', {
            detail: `The thread "${this.name}" did not answer in ${Math.round(deadlineMs / 1000)} s.`,
            headers: RETRY,
          }),
        )
      }, deadlineMs)
      timer.unref()
      this.#pending.set(callId, { resolve, reject, timer, onProgress })
      worker.post({ callId, method, input } satisfies CallMessage, transfer)
    })
  }

  /** Ends what it is doing at once; it is there again for the next call, and this counts as no trouble. */
  async renew(): Promise<void> {
    if (!this.#worker) return
    this.#isRenewing = true
    await this.#worker.end()
    await this.#ended
  }

  /** Ends the thread at once, as a crash would; for tests of what follows. */
  async kill(): Promise<void> {
    await this.#worker?.end()
    await this.#ended
  }

  /** Lets what is under way finish, for a while, then ends the thread. */
  async stop(): Promise<void> {
    this.#isStopping = true
    clearTimeout(this.#restartTimer)
    const worker = this.#worker
    if (!worker) return
    await this.call('stop' as keyof Methods & string, undefined as never, { deadlineMs: DRAIN_MS }).catch(() => {})
    await worker.end()
  }

  #start(): void {
    this.#startedAtMs = performance.now()
    let failure: Error | null = null
    this.#ended = new Promise((resolve) => {
      this.#worker = startRunner(this.#plan, {
        onMessage: (message: Message) => this.#receive(message),
        onOnline: () => {
          this.trouble = null
        },
        onError: (error) => {
          failure = error instanceof Error ? error : new Error(String(error))
        },
        onExit: (code) => {
          this.#worker = null
          const isWanted = this.#isRenewing
          this.#isRenewing = false
          if (!isWanted) this.trouble = failure?.message ?? `ended (${code})`
          this.#failAll(failure)
          if (isWanted) this.#startedAtMs = null
          else if (!this.#isStopping) this.#startLater()
          resolve()
        },
      })
    })
  }

  #startLater(): void {
    if (performance.now() - (this.#startedAtMs ?? 0) > STEADY_MS) this.#delayMs = RESTART_MIN_MS
    this.#restartTimer = setTimeout(() => {
      this.restarts++
      this.#start()
    }, this.#delayMs)
    this.#delayMs = Math.min(RESTART_MAX_MS, this.#delayMs * 2)
  }

  #unavailable(): Problem {
    return new Problem('busy', {
      detail: `The thread "${this.name}" is being started again. Nothing was changed; send it again.`,
      headers: RETRY,
    })
  }

  #receive(message: Message): void {
    if ('notice' in message) {
      this.onNotice(message.notice)
      return
    }
    const waiting = this.#pending.get(message.callId)
    if ('progress' in message) {
      waiting?.onProgress(message.progress)
      return
    }
    this.#pending.delete(message.callId)
    clearTimeout(waiting?.timer)
    if (message.error) waiting?.reject(Object.assign(new Error(message.error.message), { name: message.error.name }))
    else waiting?.resolve(message.value as never)
  }

  #failAll(cause: Error | null): void {
    for (const waiting of this.#pending.values()) {
      clearTimeout(waiting.timer)
      waiting.reject(Object.assign(this.#unavailable(), { cause }))
    }
    this.#pending.clear()
  }
}

const RETRY = { 'retry-after': '1' }
