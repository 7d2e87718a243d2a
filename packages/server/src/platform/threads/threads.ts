import { WorkerClient, type MethodTable, type WorkerPlan } from './worker-client.js'

/** Every worker thread of the server: opened on first use, drained and ended together. */
export class Threads {
  readonly #open: WorkerClient<never>[] = []

  open<Methods extends MethodTable<Methods>>(plan: WorkerPlan): WorkerClient<Methods> {
    const client = new WorkerClient<Methods>(plan)
    this.#open.push(client as unknown as WorkerClient<never>)
    return client
  }

  /** How each thread stands, in the order in which they were opened. */
  list(): { name: string; trouble: string | null; restarts: number; waiting: number }[] {
    return this.#open.map(({ name, trouble, restarts, underWay }) => ({ name, trouble, restarts, waiting: underWay }))
  }

  /** What is wrong, by the name of each thread that does not run at the moment. */
  troubles(): Record<string, string> {
    return Object.fromEntries(this.#open.flatMap((client) => (client.trouble === null ? [] : [[client.name, client.trouble]])))
  }

  /** How often each thread had to be started again. */
  restarts(): Record<string, number> {
    return Object.fromEntries(this.#open.map((client) => [client.name, client.restarts]))
  }

  /** Lets what is under way finish, then ends all threads. */
  async stop(): Promise<void> {
    await Promise.all(this.#open.map((client) => client.stop()))
  }
}
