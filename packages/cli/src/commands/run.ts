import { spawn } from 'node:child_process'
import { readCheckout } from '../checkout.js'
import { LogSender } from '../log-sender.js'
import { serverSettings } from '../server.js'
import type { Surroundings } from '../surroundings.js'
import { buildOf, tellBuild, type ReportOptions } from './report.js'

/** What `dys run` is told on its command line. */
export interface RunOptions extends Omit<ReportOptions, 'format' | 'started' | 'ended'> {
  step?: string
}

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
