import { parentPort } from 'node:worker_threads'

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
        const tell = (progress: string) => port.postMessage({ callId, progress } satisfies ProgressMessage)
        port.postMessage({ callId, value: await handler(input as never, tell) } satisfies AnswerMessage)
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
