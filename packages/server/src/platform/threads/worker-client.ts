import { parentPort, Worker, type TransferListItem } from 'node:worker_threads'

/** Messages between a worker and its client: calls with a number, answers with the same number, notices without one. */
export interface CallMessage {
  callId: number
  method: string
  input: unknown
}
export interface AnswerMessage {
  callId: number
  value?: unknown
  error?: { name: string; message: string }
}
export interface NoticeMessage {
  notice: string
}
export type Handlers = Record<string, (input: never) => unknown>

/** A worker seen from the main thread: typed calls, a count of what is under way, and a stop that waits for it. */
export class WorkerClient<Methods extends { [Name in keyof Methods]: { input: unknown; output: unknown } }> {
  readonly #worker: Worker
  readonly #pending = new Map<number, { resolve: (value: never) => void; reject: (error: Error) => void }>()
  #nextCallId = 1
  onNotice: (notice: string) => void = () => {}

  constructor(entry: URL, workerData: unknown) {
    this.#worker = new Worker(entry, { workerData })
    this.#worker.on('message', (message: AnswerMessage | NoticeMessage) => this.#receive(message))
    this.#worker.on('error', (error) => this.#failAll(error instanceof Error ? error : new Error(String(error))))
    this.#worker.on('exit', (code) => this.#failAll(new Error(`worker ended (${code})`)))
  }

  get underWay(): number {
    return this.#pending.size
  }

  call<Name extends keyof Methods & string>(
    method: Name,
    input: Methods[Name]['input'],
    transfer: TransferListItem[] = [],
  ): Promise<Methods[Name]['output']> {
    const callId = this.#nextCallId++
    return new Promise((resolve, reject) => {
      this.#pending.set(callId, { resolve, reject })
      this.#worker.postMessage({ callId, method, input } satisfies CallMessage, transfer)
    })
  }

  /** Lets what is under way finish, then ends the thread. */
  async stop(): Promise<void> {
    await this.call('stop' as keyof Methods & string, undefined as never).catch(() => {})
    await this.#worker.terminate()
  }

  #receive(message: AnswerMessage | NoticeMessage): void {
    if ('notice' in message) {
      this.onNotice(message.notice)
      return
    }
    const waiting = this.#pending.get(message.callId)
    this.#pending.delete(message.callId)
    if (message.error) waiting?.reject(Object.assign(new Error(message.error.message), { name: message.error.name }))
    else waiting?.resolve(message.value as never)
  }

  #failAll(error: Error): void {
    for (const waiting of this.#pending.values()) waiting.reject(error)
    this.#pending.clear()
  }
}

/** Serves calls inside a worker. `stop` is answered after all earlier calls are. */
export function serveCalls(handlers: Handlers, onStop: () => void = () => {}): void {
  const port = parentPort
  if (!port) throw new Error('not a worker thread')
  const running = new Set<Promise<void>>()
  port.on('message', ({ callId, method, input }: CallMessage) => {
    const work = (async () => {
      try {
        if (method === 'stop') {
          await Promise.all(running)
          onStop()
          port.postMessage({ callId } satisfies AnswerMessage)
          return
        }
        const handler = handlers[method]
        if (!handler) throw new Error(`no method ${method}`)
        port.postMessage({ callId, value: await handler(input as never) } satisfies AnswerMessage)
      } catch (error) {
        const { name, message } = error instanceof Error ? error : new Error(String(error))
        port.postMessage({ callId, error: { name, message } } satisfies AnswerMessage)
      }
    })()
    if (method === 'stop') return
    running.add(work)
    void work.finally(() => running.delete(work))
  })
}
