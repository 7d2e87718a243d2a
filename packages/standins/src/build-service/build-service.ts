import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { runTests } from '#demo/build-world'
import type { EventSender } from '#wire/events'
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
    const { junit, lcov, isGreen } = await runTests(join(this.#gitDir, `${repository}.git`), sha)
    await this.#events.sendReport({ format: 'junit', repository, commit: sha, build: number, report: junit })
    if (lcov !== '') await this.#events.sendReport({ format: 'lcov', repository, commit: sha, build: number, report: lcov })
    await this.#events.send('dev.cdevents.build.finished.0.2.0', `${repository}/${number}`, {
      ...data,
      outcome: isGreen ? 'passed' : 'broke',
    })
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
