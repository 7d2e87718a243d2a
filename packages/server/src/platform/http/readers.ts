import { availableParallelism } from 'node:os'
import type { ServerResponse } from 'node:http'
import { Problem } from '@dystracer/core/basics/problem'
import type { ProblemCode } from '@dystracer/core/basics/problem-catalogue'
import type { Operation } from '@dystracer/core/people/operation'
import type { Who } from '@dystracer/core/people/who'
import type { Config } from '#platform/config/config'
import { slot, type ServiceContext } from '#platform/context'
import type { WorkerClient } from '#platform/threads/worker-client'

/** What came to take longer than this is read beside the main thread, where it keeps nobody else waiting. */
const LONG_MS = 30
/** The share of the newest time in what an operation is known to take. */
const NEWEST = 0.3
/** So long a read may take beside the main thread. */
const BUDGET_MS = 20_000
/** So many wait for a thread at once; more are asked to come again. */
const WAITING_MAX = 200
/** Whoever went away leaves a read that has taken so long already; a short one is let finish, since a thread takes longer to start. */
const LEFT_MS = 1000

/** What a thread that reads is given to start with. */
export interface ReadsData {
  config: Config
}
/** What is asked of it; times are the server's. */
export interface ReadsMethods {
  read: {
    input: { id: string; who: Who; params: Readonly<Record<string, string>>; query: object; nowMs: number }
    output: { text: string; tookMs: number } | { problem: RefusedThere; tookMs: number }
  }
  /** Answered once the thread has everything that it needs. */
  warm: { input: object; output: undefined }
}
/** A problem as it passes between threads. */
export interface RefusedThere {
  code: ProblemCode
  detail: string
  fields: Record<string, string> | undefined
  facts: Record<string, unknown> | undefined
}

/** What an operation is called between threads. */
export function idOf({ method, path }: Pick<Operation, 'method' | 'path'>): string {
  return `${method} ${path}`
}

/**
 * Reads that have come to take long, on threads with connections of their own that cannot write: one read at a time each, within a
 * budget of time, and ended when whoever asked has gone. What takes little stays on the main thread, where it is quicker.
 */
export class Readers {
  readonly #free: WorkerClient<ReadsMethods>[] = []
  /** Threads that are started once the first operation has come to take long; until one is there, it is answered where it always was. */
  readonly #cold: WorkerClient<ReadsMethods>[]
  readonly #nowMs: () => number
  readonly #budgetMs: number
  readonly #takesMs = new Map<string, number>()
  #warmCount = 0
  readonly #waiting: ((client: WorkerClient<ReadsMethods>) => void)[] = []

  constructor(ctx: ServiceContext, { budgetMs = BUDGET_MS }: { budgetMs?: number } = {}) {
    this.#nowMs = ctx.nowMs
    this.#budgetMs = budgetMs
    const count = Math.max(1, Math.min(4, availableParallelism() - 1))
    this.#cold = Array.from({ length: count }, (_, index) =>
      ctx.threads.open<ReadsMethods>({
        name: `reading ${index + 1}`,
        entry: new URL('../../reads.worker.js', import.meta.url),
        data: { config: ctx.config } satisfies ReadsData,
      }),
    )
  }

  /** Whether an operation is to be read here; begins to start the threads where one is, and none is there yet. */
  isLong(declared: Operation): boolean {
    if ((this.#takesMs.get(idOf(declared)) ?? 0) <= LONG_MS) return false
    if (this.#cold.length > 0) void this.warm()
    return this.#warmCount > 0
  }

  /** Starts the threads; resolves once they read. */
  async warm(): Promise<void> {
    await Promise.all(this.#cold.splice(0).map((client) => this.#makeWarm(client)))
  }

  async #makeWarm(client: WorkerClient<ReadsMethods>): Promise<void> {
    try {
      await client.call('warm', {})
      this.#warmCount++
      this.#giveBack(client)
    } catch {
      // It is tried again when the next one asks; the thread's own trouble is told elsewhere.
      this.#cold.push(client)
    }
  }

  noteTaken(declared: Operation, tookMs: number): void {
    const id = idOf(declared)
    const before = this.#takesMs.get(id)
    this.#takesMs.set(id, before === undefined ? tookMs : before * (1 - NEWEST) + tookMs * NEWEST)
  }

  /** The answer as JSON. Throws what the handler throws, `took-too-long` past the budget, and `busy` where too many wait already. */
  async read(
    declared: Operation,
    { who, params, query }: { who: Who; params: Readonly<Record<string, string>>; query: object },
    response: Pick<ServerResponse, 'once' | 'off'>,
  ): Promise<string> {
    let isLeft = false
    let leave = () => {}
    const onClose = () => {
      isLeft = true
      leave()
    }
    response.once('close', onClose)
    const client = await this.#take()
    let isWarm = true
    const end = () => {
      isWarm = false
      void client.renew()
    }
    try {
      if (isLeft) throw LEFT
      let isOver = false
      const budget = setTimeout(() => {
        isOver = true
        end()
      }, this.#budgetMs)
      const startedMs = performance.now()
      let leaving: NodeJS.Timeout | undefined
      leave = () => {
        leaving = setTimeout(end, Math.max(0, LEFT_MS - (performance.now() - startedMs)))
      }
      try {
        const input = { id: idOf(declared), who, params, query, nowMs: this.#nowMs() }
        const answer = await client.call('read', input, { deadlineMs: this.#budgetMs * 2 })
        this.noteTaken(declared, answer.tookMs)
        if ('text' in answer) return answer.text
        const { code, detail, fields, facts } = answer.problem
        throw new Problem(code, { detail, ...(fields && { fields }), ...(facts && { facts }) })
      } catch (error) {
        if (isOver) throw tookTooLong(this.#budgetMs)
        throw error
      } finally {
        clearTimeout(budget)
        clearTimeout(leaving)
      }
    } finally {
      response.off('close', onClose)
      if (isWarm) this.#giveBack(client)
      else {
        // Nobody is to wait for a thread that begins anew, unless it is the only one.
        this.#warmCount--
        void this.#makeWarm(client)
      }
    }
  }

  #take(): Promise<WorkerClient<ReadsMethods>> {
    const client = this.#free.pop()
    if (client) return Promise.resolve(client)
    if (this.#waiting.length >= WAITING_MAX)
      throw new Problem('busy', { detail: 'Many long lists are being read at the moment.', headers: { 'retry-after': '5' } })
    return new Promise((resolve) => this.#waiting.push(resolve))
  }

  #giveBack(client: WorkerClient<ReadsMethods>): void {
    const next = this.#waiting.shift()
    if (next) next(client)
    else this.#free.push(client)
  }
}

/** Nobody hears it: whoever asked has gone. */
const LEFT = new Problem('busy', { detail: 'Whoever asked has gone.' })

function tookTooLong(budgetMs: number): Problem {
  return new Problem('took-too-long', {
    detail: `It was ended after ${Math.round(budgetMs / 1000)} s. Ask for less: a narrower filter, or fewer things at once.`,
    headers: { 'retry-after': '30' },
  })
}

export const readersSlot = slot('threads that read', (ctx) => new Readers(ctx))
