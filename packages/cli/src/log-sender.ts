import { randomUUID } from 'node:crypto'
import type { Build } from './commands/report.js'
import { Refusal } from './refusal.js'
import { send, type ServerSettings } from './server.js'

/** What was printed is sent after so long, all of it at once. */
const SEND_EVERY_MS = 1000

/** Sends what a program prints, one piece after the other; the first refusal ends the sending, not the program. */
export class LogSender {
  readonly #server: ServerSettings
  readonly #build: Build
  readonly #step: string
  readonly #run = randomUUID()
  #waiting: Uint8Array[] = []
  #sentBytes = 0
  #sending: Promise<void> = Promise.resolve()
  #timer: NodeJS.Timeout | undefined
  /** Why not all was sent; null while all was. */
  trouble: string | null = null

  constructor(server: ServerSettings, build: Build, step: string) {
    this.#server = server
    this.#build = build
    this.#step = step
  }

  add(chunk: Uint8Array): void {
    if (this.trouble !== null) return
    this.#waiting.push(chunk)
    this.#timer ??= setTimeout(() => this.#send(false), SEND_EVERY_MS)
  }

  async end(): Promise<void> {
    clearTimeout(this.#timer)
    this.#send(true)
    await this.#sending
  }

  /** Does something that may be refused, unless something was already. */
  async attempt(deed: () => Promise<void>): Promise<void> {
    if (this.trouble !== null) return
    try {
      await deed()
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      this.trouble = error.message
    }
  }

  #send(isLast: boolean): void {
    this.#timer = undefined
    const body = Buffer.concat(this.#waiting)
    const from = this.#sentBytes
    this.#waiting = []
    this.#sentBytes += body.length
    const query = new URLSearchParams({ ...this.#build, step: this.#step, run: this.#run, from: String(from), isLast: String(isLast) })
    this.#sending = this.#sending.then(() =>
      this.attempt(async () => {
        await send(this.#server, { path: `/receive/build-logs?${query}`, contentType: 'application/octet-stream', body })
      }),
    )
  }
}
