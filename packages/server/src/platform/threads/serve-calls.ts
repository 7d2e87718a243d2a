import { parentPort, workerData } from 'node:worker_threads'

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
/** How far a call has come, in words or numbers of its own; before its answer, as often as it likes. */
export interface ProgressMessage {
  callId: number
  progress: string
}
export interface NoticeMessage {
  notice: string
}
export type Handlers = Record<string, (input: never, tell: (progress: string) => void) => unknown>

/** What a worker was given to start with. */
export function dataOfWorker<Data>(): Data {
  return (parentPort ? workerData : JSON.parse(process.argv[2] ?? 'null')) as Data
}

/** How this worker hears and answers: a thread by its port, a process by its channel. */
function channelOf(onGone: () => void): { listen: (hear: (message: CallMessage) => void) => void; post: (message: object) => void } {
  if (parentPort) {
    const port = parentPort
    return { listen: (hear) => port.on('message', hear), post: (message) => port.postMessage(message) }
  }
  if (!process.send) throw new Error('not a worker')
  // Whoever ends the server from its keyboard, or as a service, ends all processes at once: this one ends when the server says so.
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => {})
  process.on('disconnect', () => {
    onGone()
    process.exit(0)
  })
  return {
    listen: (hear) => process.on('message', hear),
    post: (message) => void process.send?.(message, () => {}),
  }
}

/**
 * Serves calls inside a worker. `stop` is answered after all earlier calls are; `onGone` is heard by a process whose server ended without
 * a word.
 */
export function serveCalls(handlers: Handlers, onStop: () => void = () => {}, onGone: () => void = () => {}): void {
  const { listen, post } = channelOf(onGone)
  const running = new Set<Promise<void>>()
  listen(({ callId, method, input }) => {
    const work = (async () => {
      try {
        if (method === 'stop') {
          await Promise.all(running)
          onStop()
          post({ callId } satisfies AnswerMessage)
          return
        }
        const handler = handlers[method]
        if (!handler) throw new Error(`no method ${method}`)
        const tell = (progress: string) => post({ callId, progress } satisfies ProgressMessage)
        post({ callId, value: await handler(input as never, tell) } satisfies AnswerMessage)
      } catch (error) {
        const { name, message } = error instanceof Error ? error : new Error(String(error))
        post({ callId, error: { name, message } } satisfies AnswerMessage)
      }
    })()
    if (method === 'stop') return
    running.add(work)
    void work.finally(() => running.delete(work))
  })
}
