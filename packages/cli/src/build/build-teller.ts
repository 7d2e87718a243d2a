import { readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import type { StepRun } from '@dystracer/core/build-machines/build-plan'
import type { PlannedStep } from '@dystracer/core/build-machines/description'
import { BUILD_FILE_BYTES_MAX } from '@dystracer/core/build-files/wire'
import { readReport, sendReport, tellBuild, type Build } from '../commands/report.js'
import { LogSender } from '../log-sender.js'
import { Refusal } from '../refusal.js'
import { send, type ServerSettings } from '../server.js'
import { writtenFiles } from './files.js'
import type { BuildListener, BuildOutcome } from './run-plan.js'

/** A step under way: its logs by run, and since when it runs. */
interface OpenStep {
  sinceMs: number
  logs: Map<string, LogSender>
}

/**
 * Tells the server of a build while it runs: its steps, what they print, their reports and the files that they leave. What cannot be told
 * does not stop the build; the first reason is kept in `trouble`.
 */
export class BuildTeller implements BuildListener {
  readonly #server: ServerSettings
  readonly #build: Build
  readonly #folder: string
  readonly #say: (line: string) => void
  readonly #open = new Map<string, OpenStep>()
  trouble: string | null = null

  constructor({ server, build, folder, say }: { server: ServerSettings; build: Build; folder: string; say: (line: string) => void }) {
    this.#server = server
    this.#build = build
    this.#folder = folder
    this.#say = say
  }

  async stepBegan(step: PlannedStep): Promise<void> {
    this.#open.set(step.name, { sinceMs: Date.now(), logs: new Map() })
    if (step.shards > 1) await this.#tell({ predicate: 'started', step: step.name })
  }

  async runBegan({ step, name }: StepRun): Promise<void> {
    this.#open.get(step.name)?.logs.set(name, new LogSender(this.#server, this.#build, name))
    await this.#tell({ predicate: 'started', step: name, parent: step.shards > 1 ? step.name : undefined })
  }

  printed({ step, name }: StepRun, chunk: Uint8Array): void {
    this.#open.get(step.name)?.logs.get(name)?.add(chunk)
  }

  async runEnded({ step, name }: StepRun, end: BuildOutcome): Promise<void> {
    if (step.shards > 1) await this.#endRun(step, name, end)
  }

  async stepEnded(step: PlannedStep, outcome: BuildOutcome): Promise<void> {
    const sinceMs = this.#open.get(step.name)?.sinceMs ?? 0
    const lines = [...(await this.#sendReports(step, sinceMs)), ...(outcome === 'passed' ? await this.#sendFiles(step, sinceMs) : [])]
    const log = this.#open.get(step.name)?.logs.get(step.name)
    for (const line of lines) {
      log?.add(Buffer.from(`${line}\n`))
      this.#say(line)
    }
    if (step.shards === 1) await this.#endRun(step, step.name, outcome)
    else await this.#tell({ predicate: 'finished', step: step.name, outcome })
    this.#open.delete(step.name)
  }

  noted(line: string): void {
    this.#say(line)
  }

  async #endRun(step: PlannedStep, name: string, outcome: BuildOutcome): Promise<void> {
    const log = this.#open.get(step.name)?.logs.get(name)
    await log?.end()
    this.trouble ??= log?.trouble ?? null
    await this.#tell({ predicate: 'finished', step: name, outcome, parent: step.shards > 1 ? step.name : undefined })
  }

  /** A line for each report; one that cannot be read or is refused says why. */
  async #sendReports(step: PlannedStep, sinceMs: number): Promise<string[]> {
    return this.#each(writtenFiles(this.#folderOf(step), step.reports, sinceMs), (path) =>
      sendReport(this.#server, this.#build, { ...readReport(join(this.#folderOf(step), path), undefined), file: path }),
    )
  }

  async #sendFiles(step: PlannedStep, sinceMs: number): Promise<string[]> {
    return this.#each(writtenFiles(this.#folderOf(step), step.artefacts, sinceMs), async (path) => {
      const file = join(this.#folderOf(step), path)
      if (statSync(file).size > BUILD_FILE_BYTES_MAX)
        return `${path}: larger than ${BUILD_FILE_BYTES_MAX >> 20} MB, not kept; publish it elsewhere and tell its address.`
      const query = new URLSearchParams({ ...this.#build, name: path })
      await send(this.#server, { path: `/receive/build-files?${query}`, contentType: 'application/octet-stream', body: readFileSync(file) })
      return `${path}: kept.`
    })
  }

  #folderOf({ folder }: PlannedStep): string {
    return join(this.#folder, folder)
  }

  async #each(paths: readonly string[], deed: (path: string) => Promise<string>): Promise<string[]> {
    const lines: string[] = []
    for (const path of paths)
      try {
        lines.push(await deed(path))
      } catch (error) {
        if (!(error instanceof Refusal)) throw error
        lines.push(`${path}: ${error.message}`)
      }
    return lines
  }

  async #tell(told: Parameters<typeof tellBuild>[2]): Promise<void> {
    try {
      await tellBuild(this.#server, this.#build, told)
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      this.trouble ??= error.message
    }
  }
}
