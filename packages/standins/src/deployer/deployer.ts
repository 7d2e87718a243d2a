import { spawn, type ChildProcess } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { run } from '#demo/fast-import'
import { RequestError } from '#wire/json-server'
import type { EventSender } from '#wire/events'

export interface DeployInput {
  deploymentId: string
  service: string
  release: string
  sha: string
  environment: string
  by?: string
}
interface Running {
  input: DeployInput
  child: ChildProcess | null
  port: number | null
}
const START_TIMEOUT_MS = 10_000
/** Where the programs find OpenTelemetry's SDK: this project's own packages. */
const MODULES = [join(import.meta.dirname, '../../node_modules'), join(import.meta.dirname, '../../../../node_modules')].join(':')

/** Environments in which releases really run: a checkout of the tag, started as a process. What runs is remembered and started again. */
export class Deployer {
  readonly #dataDir: string
  readonly #gitDir: string
  readonly #events: EventSender
  readonly #telemetry: { serverUrl: string; token: string }
  readonly #running = new Map<string, Running>()
  readonly #statePath: string
  /** Sensors that someone unplugged; the studio's kilns do not plug them in again by themselves. */
  unplugged = new Set<string>()

  constructor({
    dataDir,
    gitDir,
    events,
    telemetry,
  }: { dataDir: string; gitDir: string; events: EventSender; telemetry: { serverUrl: string; token: string } }) {
    this.#dataDir = dataDir
    this.#gitDir = gitDir
    this.#events = events
    this.#telemetry = telemetry
    this.#statePath = join(dataDir, 'deployments.json')
  }

  list(): { service: string; environment: string; release: string; isUp: boolean }[] {
    return [...this.#running.values()].map(({ input, child }) => ({
      service: input.service,
      environment: input.environment,
      release: input.release,
      isUp: child !== null && child.exitCode === null && child.signalCode === null,
    }))
  }

  /** Starts what ran before, or what the seeded world deployed last. */
  async resume(): Promise<void> {
    const inputs = existsSync(this.#statePath)
      ? (JSON.parse(readFileSync(this.#statePath, 'utf8')) as DeployInput[])
      : await this.#lastOfWorld()
    for (const input of inputs) await this.#start(input)
  }

  async #lastOfWorld(): Promise<DeployInput[]> {
    const worldPath = join(this.#dataDir, 'world.jsonl')
    if (!existsSync(worldPath)) return []
    const last = new Map<string, DeployInput>()
    for (const line of readFileSync(worldPath, 'utf8').split('\n')) {
      if (!line.includes('"do":"deployment"')) continue
      const { service, release, environment } = JSON.parse(line) as DeployInput
      const sha = (
        await run('git', ['rev-parse', '--verify', `refs/tags/v${release}^{commit}`], { dir: join(this.#gitDir, `${service}.git`) })
      )
        .toString('utf8')
        .trim()
      last.set(`${service}/${environment}`, { deploymentId: `${service}-${release}-${environment}`, service, release, sha, environment })
    }
    return [...last.values()]
  }

  async deploy(input: DeployInput): Promise<void> {
    if (
      !/^[0-9a-f]{40}$/.test(input.sha) ||
      !/^[a-z][a-z0-9-]*$/.test(input.service) ||
      !/^[a-z]+$/.test(input.environment) ||
      !/^[\w.-]+$/.test(input.release)
    )
      throw new RequestError(422, 'not a deployment')
    await this.#start(input)
    this.#save()
    await this.#events.send('dev.cdevents.service.deployed.0.2.0', input.service, {
      deploymentId: input.deploymentId,
      service: input.service,
      release: input.release,
      environment: input.environment,
      by: input.by ?? null,
    })
  }

  async #start(input: DeployInput): Promise<void> {
    const key = `${input.service}/${input.environment}`
    const before = this.#running.get(key)
    if (before?.child) await stop(before.child)
    const dir = join(this.#dataDir, 'running', input.environment, `${input.service}-${input.release}`)
    rmSync(dir, { recursive: true, force: true })
    mkdirSync(dir, { recursive: true })
    await run('tar', ['-x'], {
      dir,
      input: await run('git', ['archive', '--format=tar', input.sha], { dir: join(this.#gitDir, `${input.service}.git`) }),
    })
    const child = spawn(process.execPath, ['src/main.js'], {
      cwd: dir,
      stdio: ['pipe', 'pipe', 'inherit'],
      env: {
        PATH: process.env.PATH,
        NODE_PATH: MODULES,
        SERVICE_VERSION: input.release,
        SERVICE_ENVIRONMENT: input.environment,
        UNPLUGGED: input.environment === 'production' ? [...this.unplugged].join(',') : '',
        OTEL_EXPORTER_OTLP_ENDPOINT: `${this.#telemetry.serverUrl}/otlp`,
        OTEL_EXPORTER_OTLP_HEADERS: `authorization=Bearer ${this.#telemetry.token}`,
      },
    })
    const running: Running = { input, child, port: null }
    this.#running.set(key, running)
    running.port = await portOf(child)
  }

  /** Unplugs or plugs a kiln's sensor in production, in the program that runs there now and in those to come. */
  async setSensor(kiln: string, isPlugged: boolean): Promise<void> {
    if (isPlugged) this.unplugged.delete(kiln)
    else this.unplugged.add(kiln)
    const running = this.#running.get('kiln-controller/production')
    if (running?.port)
      await fetch(`http://127.0.0.1:${running.port}/${isPlugged ? 'plug' : 'unplug'}?kiln=${encodeURIComponent(kiln)}`, { method: 'POST' })
  }

  async stopAll(): Promise<void> {
    await Promise.all([...this.#running.values()].map(({ child }) => (child ? stop(child) : undefined)))
  }

  #save(): void {
    writeFileSync(this.#statePath, JSON.stringify([...this.#running.values()].map(({ input }) => input)))
  }
}

function portOf(child: ChildProcess): Promise<number | null> {
  return new Promise((resolve, reject) => {
    const timer = setTimeout(() => reject(new RequestError(502, 'the program did not start in time')), START_TIMEOUT_MS)
    child.stdout?.on('data', (chunk: Buffer) => {
      const port = /listening (\d+)/.exec(chunk.toString())?.[1]
      if (!port) return
      clearTimeout(timer)
      resolve(Number(port))
    })
    child.on('exit', (code) => {
      clearTimeout(timer)
      reject(new RequestError(502, `the program ended at once (${code})`))
    })
  })
}

async function stop(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return
  await new Promise<void>((resolve) => {
    child.once('exit', () => resolve())
    child.kill('SIGTERM')
    setTimeout(() => child.kill('SIGKILL'), 3000).unref()
  })
}
