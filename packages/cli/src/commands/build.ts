import { existsSync, readFileSync } from 'node:fs'
import { rm } from 'node:fs/promises'
import { homedir, hostname } from 'node:os'
import { join } from 'node:path'
import { planOf } from '@dystracer/core/build-machines/build-plan'
import { DESCRIPTION_PATH, readDescription, type BuildPlan } from '@dystracer/core/build-machines/description'
import { buildMachinesPaths, type TakenBuild } from '@dystracer/core/build-machines/wire'
import { BuildTeller } from '../build/build-teller.js'
import { checkoutCommit } from '../build/checkout-commit.js'
import { runPlan, type BuildListener, type BuildOutcome } from '../build/run-plan.js'
import { readCheckout } from '../checkout.js'
import { LogSender } from '../log-sender.js'
import { Refusal } from '../refusal.js'
import { send, serverSettings, type ServerSettings } from '../server.js'
import type { Surroundings } from '../surroundings.js'
import { buildOf, tellBuild, type Build } from './report.js'

/** What `dys build` is told on its command line. */
export interface BuildOptions {
  url?: string
  token?: string
  /** Names the build: then it is told of. */
  build?: string
  repository: string[]
  commit?: string
  branch?: string
  wait?: true
  once?: true
  machine?: string
  folder?: string
}

/** So long the server may wait for a build before it says that none is wanted; a broken connection is noticed after that. */
const PATIENCE_MS = 20_000
/** Between two askings, should the server not wait. */
const ASK_EVERY_MS = 500
const BEAT_EVERY_MS = 10_000
/** After a server that cannot be reached. */
const AWAY_MS = 5000

/**
 * Builds the folder that it runs in as its own description says, telling of it where the build is named; or, with `--wait`, is a build
 * machine: takes the builds that are wanted, one after the other. Throws a `Refusal`.
 */
export async function build(options: BuildOptions, surroundings: Surroundings): Promise<void> {
  const stopper = new AbortController()
  const stop = () => stopper.abort()
  const signals = ['SIGINT', 'SIGTERM'] as const
  for (const signal of signals) process.on(signal, stop)
  try {
    if (options.wait || options.once) await waitForBuilds(options, surroundings, stopper.signal)
    else surroundings.exitWith((await buildHere(options, surroundings, stopper.signal)) === 'passed' ? 0 : 1)
  } finally {
    for (const signal of signals) process.off(signal, stop)
  }
}

async function buildHere(options: BuildOptions, { env, cwd, say, print }: Surroundings, signal: AbortSignal): Promise<BuildOutcome> {
  const plan = planIn(cwd)
  const server = options.build === undefined ? null : serverSettings(options, env)
  const [repository] = options.repository
  const named =
    options.build === undefined
      ? null
      : buildOf({ ...options, repository, build: options.build } as Parameters<typeof buildOf>[0], readCheckout(cwd))
  const teller = server && named ? new BuildTeller({ server, build: named, folder: cwd, say }) : null
  if (server && named) await tellBuild(server, named, { predicate: 'started' })
  const outcome = await runPlan(plan, { folder: cwd, env, told: named ? toldOf(named) : {}, signal }, printing(teller, { say, print }))
  if (server && named) await tellBuild(server, named, { predicate: 'finished', outcome })
  if (teller?.trouble) say(`Not all of it was told: ${teller.trouble}`)
  say(`The build ${OUTCOME_WORDS[outcome]}.`)
  return outcome
}
const OUTCOME_WORDS: Record<BuildOutcome, string> = { passed: 'passed', broke: 'broke', stopped: 'was stopped' }

function planIn(folder: string): BuildPlan {
  const path = join(folder, DESCRIPTION_PATH)
  if (!existsSync(path))
    throw new Refusal(`There is no ${DESCRIPTION_PATH} here that says how this is built; Dystracer suggests one in Settings, Builds.`, {
      exitCode: 2,
    })
  const read = readDescription(readFileSync(path, 'utf8'))
  const planned = 'problems' in read ? read : planOf(read.file, [])
  if ('file' in read && read.file.include.length > 0)
    throw new Refusal(`${DESCRIPTION_PATH} includes files of other repositories, which only a build machine is given (dys build --wait).`, {
      exitCode: 2,
    })
  if ('plan' in planned) return planned.plan
  const words = planned.problems.map(({ line, text }) => `${DESCRIPTION_PATH}${line === null ? '' : `:${line}`}: ${text}`)
  throw new Refusal(words.join('\n'), { exitCode: 2 })
}

/** Prints what a build prints, under the names of its steps, beside telling of it. */
function printing(teller: BuildTeller | null, { say, print }: Pick<Surroundings, 'say' | 'print'>): BuildListener {
  return {
    stepBegan: async (step) => teller?.stepBegan(step),
    runBegan: async (run) => {
      say(`— ${run.name}`)
      await teller?.runBegan(run)
    },
    printed: (run, chunk, to) => {
      print(chunk, to)
      teller?.printed(run, chunk)
    },
    runEnded: async (run, end) => {
      if (end !== 'passed') say(`— ${run.name} ${OUTCOME_WORDS[end]}`)
      await teller?.runEnded(run, end)
    },
    stepEnded: async (step, end) => teller?.stepEnded(step, end),
    noted: say,
  }
}

const toldOf = ({ repository, commit, branch, build: name }: Build): Record<string, string> => ({
  DYSTRACER_REPOSITORY: repository,
  DYSTRACER_COMMIT: commit,
  DYSTRACER_BRANCH: branch,
  DYSTRACER_BUILD: name,
})

async function waitForBuilds(options: BuildOptions, { env, say }: Surroundings, signal: AbortSignal): Promise<void> {
  const server = serverSettings(options, env)
  const machine = options.machine ?? hostname()
  const folder = options.folder ?? join(homedir(), '.cache', 'dystracer-builds')
  say(`${machine} waits for builds of ${options.repository.join(', ') || 'every repository'} at ${server.address}.`)
  let isReached = true
  while (!signal.aborted) {
    try {
      const { wanted } = await post<'takeWantedBuild'>(
        server,
        'takeWantedBuild',
        {
          machine,
          repositories: options.repository,
          patienceMs: options.once ? 0 : PATIENCE_MS,
        },
        signal,
      )
      if (!isReached) say(`${server.address} answers again.`)
      isReached = true
      if (wanted) await buildWanted(wanted, { server, machine, folder, env, say, signal })
      else if (options.once) return
      else await pause(ASK_EVERY_MS, signal)
    } catch (error) {
      // A server that is away comes back; one that refuses us does not change its mind by being asked again.
      if (signal.aborted) return
      if (!(error instanceof Refusal) || error.exitCode !== 3) throw error
      if (isReached) say(`${error.message} It is asked again.`)
      isReached = false
      await pause(AWAY_MS, signal)
    }
  }
}

interface MachineWork {
  server: ServerSettings
  machine: string
  folder: string
  env: Surroundings['env']
  say: (line: string) => void
  signal: AbortSignal
}

/** Takes a wanted build to its end, whatever becomes of it. */
async function buildWanted(wanted: TakenBuild, { server, machine, folder, env, say, signal }: MachineWork): Promise<void> {
  const { wantedId, repository, sha, branch } = wanted
  const told: Build = { repository, commit: sha, branch, build: wanted.build }
  say(`${repository}/${wanted.build}: ${branch} at ${sha.slice(0, 12)}`)
  const stopper = new AbortController()
  const stop = () => stopper.abort()
  signal.addEventListener('abort', stop, { once: true })
  const beating = setInterval(() => {
    post<'beatOfBuild'>(server, 'beatOfBuild', { machine, wantedId }).then(
      ({ isStopWanted }) => isStopWanted && stop(),
      // The next beat may be heard; a build goes on without.
      (error: unknown) => error instanceof Refusal || stopper.abort(error),
    )
  }, BEAT_EVERY_MS)
  try {
    await tellBuild(server, told, { predicate: 'started' })
    const outcome = await carryOut(wanted, told, { server, machine, folder, env, say, signal: stopper.signal })
    await tellBuild(server, told, { predicate: 'finished', outcome })
    await post<'endWantedBuild'>(server, 'endWantedBuild', { machine, wantedId, outcome })
    say(`${repository}/${wanted.build} ${OUTCOME_WORDS[outcome]}.`)
  } finally {
    clearInterval(beating)
    signal.removeEventListener('abort', stop)
  }
}

async function carryOut(wanted: TakenBuild, told: Build, { server, folder, env, say, signal }: MachineWork): Promise<BuildOutcome> {
  if (wanted.plan === null) {
    const why = wanted.problems.map(({ line, text }) => `error: ${DESCRIPTION_PATH}${line === null ? '' : `:${line}`}: ${text}`)
    return failWith(server, told, why)
  }
  let checkout: string | null = null
  try {
    checkout = await checkoutCommit(folder, wanted)
    const teller = new BuildTeller({ server, build: told, folder: checkout, say })
    const outcome = await runPlan(wanted.plan, { folder: checkout, env, told: toldOf(told), signal }, teller)
    if (teller.trouble) say(`Not all of it was told: ${teller.trouble}`)
    return outcome
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    return failWith(server, told, [`error: ${error.message}`])
  } finally {
    if (checkout !== null) await rm(checkout, { recursive: true, force: true })
  }
}

/** A build that could not begin says why in its log. */
async function failWith(server: ServerSettings, told: Build, lines: readonly string[]): Promise<BuildOutcome> {
  const log = new LogSender(server, told, 'log')
  log.add(Buffer.from(`${lines.join('\n')}\n`))
  await log.end()
  return 'broke'
}

type Paths = typeof buildMachinesPaths
type AnswerAt<Name extends keyof Paths> = Paths[Name]['gives']['json']['_output']

async function post<Name extends keyof Paths>(
  server: ServerSettings,
  name: Name,
  body: object,
  signal?: AbortSignal,
): Promise<AnswerAt<Name>> {
  const { path, gives } = buildMachinesPaths[name]
  const text = await send(server, { path, contentType: 'application/json', body: JSON.stringify(body), ...(signal && { signal }) })
  return gives.json.parse(JSON.parse(text)) as AnswerAt<Name>
}

function pause(durationMs: number, signal: AbortSignal): Promise<void> {
  return new Promise((resolve) => {
    const end = () => {
      clearTimeout(timer)
      signal.removeEventListener('abort', end)
      resolve()
    }
    const timer = setTimeout(end, durationMs)
    signal.addEventListener('abort', end, { once: true })
    if (signal.aborted) end()
  })
}
