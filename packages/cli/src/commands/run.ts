import { spawn } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { readCheckout } from '../checkout.js'
import { Refusal } from '../refusal.js'
import { send, serverSettings, type ServerSettings } from '../server.js'
import type { Surroundings } from '../surroundings.js'
import { buildOf, tellBuild, type Build, type ReportOptions } from './report.js'

/** What `dys run` is told on its command line. */
export interface RunOptions extends Omit<ReportOptions, 'format' | 'started' | 'ended'> {
  step?: string
}

/** What was printed is sent after so long, all of it at once. */
const SEND_EVERY_MS = 1000
/** What a shell says of a program that it could not start, and of one that a signal ended. */
const NOT_STARTED = 127
const BY_SIGNAL = 128

/**
 * Runs a program, passes on what it prints, and sends that as the log of a build or of one of its steps while it runs. Whatever becomes of
 * the sending, the program runs to its end and its exit code is ours; what could not be sent is said. Throws a `Refusal` for a wrong call.
 */
export async function run(
  program: readonly string[],
  options: RunOptions,
  { env, cwd, say, print, exitWith }: Surroundings,
): Promise<void> {
  const server = serverSettings(options, env)
  const build = buildOf(options, readCheckout(cwd))
  const { step } = options
  const log = new LogSender(server, build, step ?? 'log')
  await log.attempt(() => tellBuild(server, build, { predicate: 'started', step }))
  const code = await runProgram(program, { cwd, env }, (chunk, to) => {
    print(chunk, to)
    log.add(chunk)
  })
  await log.end()
  await log.attempt(() => tellBuild(server, build, { predicate: 'finished', step, outcome: code === 0 ? 'passed' : 'broke' }))
  if (log.trouble !== null) say(`What it printed was not sent whole: ${log.trouble}`)
  exitWith(code)
}

function runProgram(
  [command = '', ...args]: readonly string[],
  { cwd, env }: Pick<Surroundings, 'cwd' | 'env'>,
  onOutput: (chunk: Uint8Array, to: 'out' | 'error') => void,
): Promise<number> {
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd, env: { ...env }, stdio: ['inherit', 'pipe', 'pipe'] })
    const stop = (signal: NodeJS.Signals) => child.kill(signal)
    const signals = ['SIGINT', 'SIGTERM'] as const
    for (const signal of signals) process.on(signal, stop)
    child.stdout.on('data', (chunk: Buffer) => onOutput(chunk, 'out'))
    child.stderr.on('data', (chunk: Buffer) => onOutput(chunk, 'error'))
    const end = (code: number) => {
      for (const signal of signals) process.off(signal, stop)
      resolve(code)
    }
    child.on('error', (error) => {
      onOutput(Buffer.from(`${command} did not start: ${error.message}\n`), 'error')
      end(NOT_STARTED)
    })
    child.on('close', (code) => end(code ?? BY_SIGNAL))
  })
}

/** Sends what a program prints, one piece after the other; the first refusal ends the sending, not the program. */
class LogSender {
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
