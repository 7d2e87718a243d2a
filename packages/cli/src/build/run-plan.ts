import { spawn, type ChildProcess } from 'node:child_process'
import { connect } from 'node:net'
import { availableParallelism } from 'node:os'
import { join } from 'node:path'
import pLimit, { type LimitFunction } from 'p-limit'
import { nextSteps, runsOf, type StepEnd, type StepRun } from '@dystracer/core/build-machines/build-plan'
import type { BuildPlan, PlannedStep } from '@dystracer/core/build-machines/description'

/** How a build, a step of it or one run of a step ended. */
export type BuildOutcome = 'passed' | 'broke' | 'stopped'

/** Where a plan is carried out, and what its steps may see. */
export interface Workplace {
  /** The folder of the checked-out repository. */
  folder: string
  /** The variables of the machine. */
  env: Readonly<Record<string, string | undefined>>
  /** Variables that say which build this is. */
  told: Readonly<Record<string, string>>
  /** When to stop. */
  signal: AbortSignal
}
/** What is heard of a build while it runs. */
export interface BuildListener {
  stepBegan(step: PlannedStep): Promise<void>
  runBegan(run: StepRun): Promise<void>
  printed(run: StepRun, chunk: Uint8Array, to: 'out' | 'error'): void
  runEnded(run: StepRun, end: BuildOutcome): Promise<void>
  stepEnded(step: PlannedStep, end: BuildOutcome): Promise<void>
  /** Something that belongs to no step. */
  noted(line: string): void
}

/** Of the machine's variables every program sees these; others only where the description names them. */
const ALWAYS_SEEN = ['PATH', 'HOME', 'USER', 'LANG', 'LC_ALL', 'TZ', 'TMPDIR', 'SHELL', 'TERM']
const PORT_WAIT_MS = 60_000
const PORT_EVERY_MS = 200
/** What is asked to end is ended after so long. */
const GRACE_MS = 5000

/**
 * Carries out a plan: services first, then the steps as they become free, at most as many runs at once as the machine has cores. What broke
 * keeps those after it from beginning, unless they always run; stopping ends every program. Everything that was started is ended before
 * this resolves.
 */
export async function runPlan(plan: BuildPlan, place: Workplace, listener: BuildListener): Promise<BuildOutcome> {
  const services: ChildProcess[] = []
  const ends = new Map<string, StepEnd>()
  try {
    for (const service of plan.services) {
      services.push(startService(service, variablesOf(plan, place, service.environment), place, listener))
      if (service.port !== null && !(await isAnswering(service.port, place.signal))) {
        listener.noted(`The service “${service.name}” does not answer on port ${service.port}.`)
        return place.signal.aborted ? 'stopped' : 'broke'
      }
    }
    await runSteps(plan, place, { ends, listener })
  } finally {
    await Promise.all(services.map(endGroup))
  }
  if (place.signal.aborted) return 'stopped'
  return [...ends.values()].every((end) => end === 'passed') ? 'passed' : 'broke'
}

async function runSteps(
  plan: BuildPlan,
  place: Workplace,
  { ends, listener }: { ends: Map<string, StepEnd>; listener: BuildListener },
): Promise<void> {
  const atOnce = pLimit(availableParallelism())
  const begun = new Map<string, Promise<void>>()
  for (;;) {
    const { now, never } = nextSteps(plan, ends, new Set(begun.keys()))
    for (const step of never) ends.set(step.name, 'skipped')
    if (!place.signal.aborted)
      for (const step of now)
        begun.set(
          step.name,
          runStep(plan, step, { place, listener, atOnce }).then((end) => {
            ends.set(step.name, end)
            begun.delete(step.name)
          }),
        )
    if (begun.size === 0 && never.length === 0) return
    if (begun.size > 0) await Promise.race(begun.values())
  }
}

async function runStep(
  plan: BuildPlan,
  step: PlannedStep,
  { place, listener, atOnce }: { place: Workplace; listener: BuildListener; atOnce: LimitFunction },
): Promise<StepEnd> {
  await listener.stepBegan(step)
  const ends = await Promise.all(
    runsOf(step).map((run) =>
      atOnce(async () => {
        await listener.runBegan(run)
        const environment = { ...variablesOf(plan, place, step.environment), SHARD: String(run.shard), SHARDS: String(step.shards) }
        const end = place.signal.aborted ? 'stopped' : await runProgram(run, environment, { place, listener })
        await listener.runEnded(run, end)
        return end
      }),
    ),
  )
  const end = ends.every((one) => one === 'passed') ? 'passed' : 'broke'
  await listener.stepEnded(step, ends.includes('stopped') ? 'stopped' : end)
  return end
}

function variablesOf(plan: BuildPlan, { env, told }: Workplace, own: Readonly<Record<string, string>>): Record<string, string> {
  const seen = [...ALWAYS_SEEN, ...plan.passes].flatMap((name) => (env[name] === undefined ? [] : [[name, env[name]] as const]))
  return { ...Object.fromEntries(seen), CI: 'true', ...told, ...plan.environment, ...own }
}

function runProgram(
  run: StepRun,
  environment: Record<string, string>,
  { place, listener }: { place: Workplace; listener: BuildListener },
): Promise<BuildOutcome> {
  return new Promise((resolve) => {
    const child = startGroup(run.command, { cwd: join(place.folder, run.step.folder), env: environment })
    let isStopped = false
    const say = (line: string) => listener.printed(run, Buffer.from(`${line}\n`), 'error')
    const stop = () => {
      isStopped = true
      say('It was stopped.')
      void endGroup(child)
    }
    const tooLong = setTimeout(() => {
      say(`It ran for more than ${run.step.minutes} minutes, and was stopped.`)
      void endGroup(child)
    }, run.step.minutes * 60_000)
    place.signal.addEventListener('abort', stop, { once: true })
    child.stdout?.on('data', (chunk: Buffer) => listener.printed(run, chunk, 'out'))
    child.stderr?.on('data', (chunk: Buffer) => listener.printed(run, chunk, 'error'))
    child.on('error', (error) => {
      say(`It did not start: ${error.message}`)
      end(1)
    })
    const end = (code: number | null) => {
      clearTimeout(tooLong)
      place.signal.removeEventListener('abort', stop)
      if (code !== 0 && code !== null && !isStopped) say(`It ended with code ${code}.`)
      // What it left running would hold the next step up, or the machine.
      void endGroup(child)
      resolve(isStopped ? 'stopped' : code === 0 ? 'passed' : 'broke')
    }
    child.on('close', end)
  })
}

function startService(
  { name, command }: BuildPlan['services'][number],
  env: Record<string, string>,
  place: Workplace,
  listener: BuildListener,
): ChildProcess {
  const child = startGroup(command, { cwd: place.folder, env })
  for (const stream of [child.stdout, child.stderr])
    stream?.on('data', (chunk: Buffer) => {
      for (const line of chunk.toString('utf8').trimEnd().split('\n')) listener.noted(`${name}: ${line}`)
    })
  child.on('error', (error) => listener.noted(`The service “${name}” did not start: ${error.message}`))
  return child
}

/** A shell in a process group of its own, so that all it starts ends with it. */
function startGroup(command: string, { cwd, env }: { cwd: string; env: Record<string, string> }): ChildProcess {
  return spawn('/bin/sh', ['-e', '-c', command], { cwd, env, detached: true, stdio: ['ignore', 'pipe', 'pipe'] })
}

/** Ends a process group, by force after a while; resolves once it is gone. */
async function endGroup(child: ChildProcess): Promise<void> {
  const { pid } = child
  if (pid === undefined || !signal(pid, 'SIGTERM')) return
  for (const untilMs = Date.now() + GRACE_MS; Date.now() < untilMs; ) {
    await new Promise((resolve) => setTimeout(resolve, 50))
    if (!signal(pid, 0)) return
  }
  signal(pid, 'SIGKILL')
}

/** Whether there was a process of the group to be signalled. */
function signal(pid: number, how: NodeJS.Signals | 0): boolean {
  try {
    process.kill(-pid, how)
    return true
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ESRCH' || (error as NodeJS.ErrnoException).code === 'EPERM') return false
    throw error
  }
}

async function isAnswering(port: number, signal: AbortSignal): Promise<boolean> {
  for (const untilMs = Date.now() + PORT_WAIT_MS; Date.now() < untilMs && !signal.aborted; ) {
    const answers = await new Promise<boolean>((resolve) => {
      const socket = connect({ port, host: '127.0.0.1' })
      const end = (did: boolean) => {
        socket.destroy()
        resolve(did)
      }
      socket.on('connect', () => end(true)).on('error', () => end(false))
    })
    if (answers) return true
    await new Promise((resolve) => setTimeout(resolve, PORT_EVERY_MS))
  }
  return false
}
