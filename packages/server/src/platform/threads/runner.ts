import { fork } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { Worker, type TransferListItem } from 'node:worker_threads'

/** What hears of a worker that runs. */
export interface RunnerEvents<Message> {
  onMessage: (message: Message) => void
  onOnline: () => void
  onError: (error: unknown) => void
  /** The last event. */
  onExit: (code: number | null) => void
}
/** A worker that runs, whatever it runs as. */
export interface Runner {
  post: (message: object, transfer: TransferListItem[]) => void
  /** Ends it at once; resolves when it is gone. */
  end: () => Promise<unknown>
}
export interface RunnerPlan {
  entry: URL
  data: unknown
  /**
   * A process of its own, for a worker that starts many programs: the system copies the page tables of the whole process for each one that
   * it starts (2 ms from a small one, 46 ms from one of 800 MB), and all of its threads stand still meanwhile.
   */
  isProcess?: true
}

/** Starts a worker, as a thread or as a process. */
export function startRunner<Message>(plan: RunnerPlan, events: RunnerEvents<Message>): Runner {
  return plan.isProcess ? startProcess(plan, events) : startThread(plan, events)
}

function startThread<Message>({ entry, data }: RunnerPlan, { onMessage, onOnline, onError, onExit }: RunnerEvents<Message>): Runner {
  const worker = new Worker(entry, { workerData: data })
  worker.on('message', onMessage)
  worker.on('online', onOnline)
  worker.on('error', onError)
  worker.on('exit', onExit)
  return { post: (message, transfer) => worker.postMessage(message, transfer), end: () => worker.terminate() }
}

function startProcess<Message>({ entry, data }: RunnerPlan, { onMessage, onOnline, onError, onExit }: RunnerEvents<Message>): Runner {
  const child = fork(fileURLToPath(entry), [JSON.stringify(data)], { serialization: 'advanced', execArgv: [] })
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()))
  child.on('message', (message) => onMessage(message as Message))
  child.on('spawn', onOnline)
  child.on('error', onError)
  child.on('exit', onExit)
  return {
    // What cannot be sent any more is told by the exit, which rejects every call that is under way.
    post: (message) => void child.send(message, () => {}),
    end: () => {
      child.kill('SIGKILL')
      return ended
    },
  }
}
