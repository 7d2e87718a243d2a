import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { runTests } from '#demo/build-world'
import type { EventSender, LogPiece } from '#wire/events'
import type { PushedBranch } from '#code-host/code-host'

const SETTLE_MS = 700

/**
 * Builds each pushed branch: checks it out, really runs its tests, sends the report and the events. One build at a time; a newer push to a
 * waiting branch takes its place.
 */
export class BuildService {
  readonly #gitDir: string
  readonly #events: EventSender
  readonly #numbersPath: string
  readonly #numbers: Record<string, number>
  #queue: PushedBranch[] = []
  #isRunning = false

  constructor({ dataDir, gitDir, events }: { dataDir: string; gitDir: string; events: EventSender }) {
    this.#gitDir = gitDir
    this.#events = events
    this.#numbersPath = join(dataDir, 'build-numbers.json')
    this.#numbers = existsSync(this.#numbersPath)
      ? (JSON.parse(readFileSync(this.#numbersPath, 'utf8')) as Record<string, number>)
      : lastNumbers(join(dataDir, 'world.jsonl'))
  }

  enqueue(pushed: PushedBranch): void {
    this.#queue = this.#queue.filter((entry) => entry.repository !== pushed.repository || entry.branch !== pushed.branch)
    this.#queue.push(pushed)
    // A push is seldom alone: a build that waits a moment is made of the last one.
    setTimeout(() => void this.#work(), SETTLE_MS)
  }

  async #work(): Promise<void> {
    if (this.#isRunning) return
    this.#isRunning = true
    for (let next = this.#queue.shift(); next; next = this.#queue.shift()) {
      try {
        await this.#build(next)
      } catch (error) {
        console.error(`a build ended badly: ${error instanceof Error ? error.message : String(error)}`)
      }
    }
    this.#isRunning = false
  }

  async #build({ repository, branch, sha }: PushedBranch): Promise<void> {
    const number = (this.#numbers[repository] ?? 0) + 1
    this.#numbers[repository] = number
    writeFileSync(this.#numbersPath, JSON.stringify(this.#numbers))
    const data = { repository, number, sha, branch, startedAtMs: Date.now() }
    await this.#events.send('dev.cdevents.build.started.0.2.0', `${repository}/${number}`, data)
    const log = new LogSender(this.#events, { repository, commit: sha, branch, build: number })
    const { junit, lcov, isGreen } = await runTests(join(this.#gitDir, `${repository}.git`), sha, (lines) => log.add(lines))
    await log.end()
    await this.#events.sendReport({ format: 'junit', repository, commit: sha, build: number, report: junit })
    if (lcov !== '') await this.#events.sendReport({ format: 'lcov', repository, commit: sha, build: number, report: lcov })
    await this.#events.send('dev.cdevents.build.finished.0.2.0', `${repository}/${number}`, {
      ...data,
      outcome: isGreen ? 'passed' : 'broke',
    })
  }
}

const SEND_EVERY_MS = 500

/** Sends what a build prints while it runs: what came in half a second at once, one piece after the other. */
class LogSender {
  readonly #events: EventSender
  readonly #of: Pick<LogPiece, 'repository' | 'commit' | 'branch' | 'build'>
  #waiting = ''
  #sentBytes = 0
  #sending: Promise<void> = Promise.resolve()
  #timer: NodeJS.Timeout | undefined

  constructor(events: EventSender, of: Pick<LogPiece, 'repository' | 'commit' | 'branch' | 'build'>) {
    this.#events = events
    this.#of = of
  }

  add(lines: string): void {
    this.#waiting += lines
    this.#timer ??= setTimeout(() => this.#send(false), SEND_EVERY_MS)
  }

  async end(): Promise<void> {
    clearTimeout(this.#timer)
    this.#send(true)
    await this.#sending
  }

  #send(isLast: boolean): void {
    this.#timer = undefined
    const [text, from] = [this.#waiting, this.#sentBytes]
    this.#waiting = ''
    this.#sentBytes += Buffer.byteLength(text)
    this.#sending = this.#sending.then(() => this.#events.sendLog({ ...this.#of, from, text, isLast }))
  }
}

function lastNumbers(worldPath: string): Record<string, number> {
  const numbers: Record<string, number> = {}
  if (!existsSync(worldPath)) return numbers
  for (const line of readFileSync(worldPath, 'utf8').split('\n')) {
    if (!line.includes('"do":"build"')) continue
    const { repository, number } = JSON.parse(line) as { repository: string; number: number }
    numbers[repository] = Math.max(numbers[repository] ?? 0, number)
  }
  return numbers
}
