import { spawn, type ChildProcess } from 'node:child_process'
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

const MACHINE = 'emberwick-builds'
/** What is asked to end is ended after so long. */
const GRACE_MS = 8000

/**
 * The build service: a build machine as any team has one. It takes the companion from Dystracer itself, and waits with it for builds; what
 * they do stands with the code.
 */
export class BuildService {
  readonly #folder: string
  readonly #serverUrl: string
  readonly #token: string
  #child: ChildProcess | null = null

  constructor({ dataDir, serverUrl, token }: { dataDir: string; serverUrl: string; token: string }) {
    this.#folder = join(dataDir, 'build-machine')
    this.#serverUrl = serverUrl
    this.#token = token
  }

  /** Takes the companion and begins to wait; to be called once Dystracer answers. */
  async start(): Promise<void> {
    const answer = await fetch(`${this.#serverUrl}/dys.mjs`)
    if (!answer.ok) throw new Error(`Dystracer does not hand out the companion (${answer.status})`)
    mkdirSync(this.#folder, { recursive: true })
    const companion = join(this.#folder, 'dys.mjs')
    writeFileSync(companion, Buffer.from(await answer.arrayBuffer()))
    this.#child = spawn(process.execPath, [companion, 'build', '--wait', '--machine', MACHINE, '--folder', join(this.#folder, 'builds')], {
      cwd: this.#folder,
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { PATH: process.env.PATH, HOME: this.#folder, DYSTRACER_URL: this.#serverUrl, DYSTRACER_TOKEN: this.#token },
    })
  }

  /** Stops what is being built, and the machine. */
  async stop(): Promise<void> {
    const child = this.#child
    if (child === null || child.exitCode !== null || child.signalCode !== null) return
    await new Promise<void>((resolve) => {
      child.on('exit', () => resolve())
      child.kill('SIGTERM')
      setTimeout(() => child.kill('SIGKILL'), GRACE_MS).unref()
    })
  }
}
