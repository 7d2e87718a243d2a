import { execFileSync, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { monitorEventLoopDelay, performance } from 'node:perf_hooks'
import { patchStateAt } from '@dystracer/core/code/patch-state'
import { buildContext } from '@dystracer/server/context'
import type { ServiceContext } from '@dystracer/server/platform/context'
import { makeConfig, type Config } from '@dystracer/server/platform/config/config'
import { startServer } from '@dystracer/server/server'
import { graphOf } from '@dystracer/server/subjects/code/index'
import { fillWorld, makeRandom } from './bench-world.js'

/** Releases of the made-up history, evenly over its length. */
const TAGS = 200
const FILES = 400
const LINES = 20
const QUESTIONS = 20

/**
 * A history of so many commits, read as a team's first day would: connected by its path, while somebody asks for answers; then one
 * push, and the question which releases contain a fix. Beside bare git in the same run: a mirror clone with `log -p | patch-id` for
 * the reading, a fetch into a mirror for the push, `tag --contains` for the question.
 */
export async function benchHistory({ commits = 20_000 }: { commits?: number } = {}): Promise<Record<string, number>> {
  const dir = mkdtempSync(join(tmpdir(), 'dystracer-history-'))
  try {
    const source = await makeTides(dir, commits)
    say('bare git')
    const bareSeconds = timed(() => {
      git(dir, 'clone', '--quiet', '--mirror', source, 'bare.git')
      execFileSync('sh', ['-c', 'git log -p --root --all --no-renames | git patch-id --stable | wc -l'], { cwd: join(dir, 'bare.git') })
    })

    const owned = buildContext(quietConfig(dir))
    const { ctx } = owned
    fillWorld(ctx, { items: 0, comments: 0, waiting: 0, notices: 0 })
    const server = await startServer(owned)
    const answers = askOnAndOn(`http://127.0.0.1:${server.port}/healthz`)
    const delays = monitorEventLoopDelay({ resolution: 5 })
    delays.enable()
    connectTides(ctx, source)
    const startedMs = performance.now()
    say('reading')
    await server.sync.request('tides', 'bench')
    const readSeconds = (performance.now() - startedMs) / 1000
    delays.disable()
    const { slowestMs, peakMb } = answers.stop()
    const graph = graphOf(ctx, 'tides')
    if (graph.size < commits) throw new Error(`only ${graph.size} of ${commits} commits were read`)

    say('asking')
    const tags = git(source, 'for-each-ref', '--format=%(objectname)', 'refs/tags').trim().split('\n')
    const random = makeRandom(11)
    const asked = Array.from({ length: QUESTIONS }, () => git(source, 'rev-parse', `main~${Math.floor(random() * commits * 0.6)}`).trim())
    const questionsMs = asked.map((sha) => {
      const patchId = graph.get(sha)?.patchId
      const startMs = performance.now()
      const holding = tags.filter((tag) => patchId && patchStateAt(graph, tag, patchId).isIn).length
      const oursMs = performance.now() - startMs
      const gitStartMs = performance.now()
      const expected = git(source, 'tag', '--contains', sha).split('\n').filter(Boolean).length
      if (patchId && expected > holding) throw new Error(`git finds ${expected} releases with ${sha}, we ${holding}`)
      return { oursMs, gitMs: performance.now() - gitStartMs }
    })
    const oursMs = middle(questionsMs.map((each) => each.oursMs))

    say('pushing')
    const pushes = await pushSome({ dir, source, sync: () => server.sync.request('tides', 'push') })
    await server.stop()
    say('starting again')
    const again = await startAgain(dir, commits)
    return {
      commits: graph.size,
      readSeconds: round(readSeconds),
      bareGitSeconds: round(bareSeconds),
      readRatio: round(readSeconds / bareSeconds),
      slowestAnswerMs: round(slowestMs),
      longestStandstillMs: round(delays.max / 1e6),
      peakMemoryMb: Math.round(peakMb),
      whichReleasesMs: round(oursMs),
      gitTagContainsMs: round(middle(questionsMs.map((each) => each.gitMs))),
      pushMs: round(pushes.oursMs),
      bareFetchMs: round(pushes.bareMs),
      pushBeyondFetchMs: round(pushes.oursMs - pushes.bareMs),
      ...again,
    }
  } finally {
    rmSync(dir, { recursive: true, force: true })
  }
}

/** Runs git in a folder and gives what it says. */
export function git(where: string, ...args: string[]): string {
  return execFileSync('git', args, { cwd: where, maxBuffer: 1 << 30 }).toString()
}

/** A bare repository of so many commits in a folder; gives its path. */
export async function makeTides(dir: string, commits: number): Promise<string> {
  const source = join(dir, 'tides.git')
  mkdirSync(source)
  git(source, 'init', '--quiet', '--bare', '--initial-branch=main')
  say('writing the history')
  await writeHistory(source, commits)
  return source
}

/** A server that says nothing, refuses nobody for asking often, and reads repositories of the folder when it is told to. */
export function quietConfig(dir: string): Config {
  return {
    ...makeConfig('real', { DYSTRACER_LOG: 'silent', DYSTRACER_REQUESTS_PER_MINUTE: 0 }),
    dataDir: join(dir, 'data'),
    port: 0,
    repositoriesDir: dir,
    pollIntervalMs: 3_600_000,
  }
}

/** Has the repository read by its path from the next round on. */
export function connectTides(ctx: ServiceContext, source: string): void {
  ctx.journal.write((writer) =>
    writer.append({
      kind: 'repository-added',
      actor: 'system',
      subjects: ['repository:tides'],
      body: { name: 'tides', url: `file://${source}`, mainBranch: 'main' },
    }),
  )
}

/** A history as git's own import stream: a main line, every twentieth commit a merge of a branch of three, tags all along. */
async function writeHistory(dir: string, commits: number): Promise<void> {
  const importer = spawn('git', ['fast-import', '--quiet'], { cwd: dir, stdio: ['pipe', 'ignore', 'inherit'] })
  const ended = once(importer, 'close')
  const random = makeRandom(5)
  const files = Array.from({ length: FILES }, (_, file) => Array.from({ length: LINES }, (_, line) => `${file} ${line} still water`))
  const data = (text: string) => `data ${Buffer.byteLength(text)}\n${text}\n`
  let text = ''
  let side: number[] = []
  let tip = 0
  for (let mark = 1; mark <= commits; mark++) {
    const isMerge = mark % 20 === 0 && side.length > 0
    const isSide = !isMerge && mark % 20 > 15
    const file = Math.floor(random() * FILES)
    const lines = files[file] ?? []
    const line = Math.floor(random() * LINES)
    lines[line] = `${file} ${line} tide of commit ${mark}`
    const from = isSide ? (side.at(-1) ?? tip) : tip
    const signature = `Somebody <somebody@tides.example> ${1_600_000_000 + mark * 60} +0000`
    text += `commit refs/heads/main\nmark :${mark}\nauthor ${signature}\ncommitter ${signature}\n${data(`Turn tide ${mark}`)}`
    if (from > 0) text += `from :${from}\n`
    if (isMerge) text += `merge :${side.at(-1)}\n`
    else text += `M 100644 inline src/area-${file % 20}/tide-${file}.txt\n${data(lines.join('\n'))}`
    if (isMerge) side = []
    if (isSide) side.push(mark)
    else tip = mark
    if (mark % Math.ceil(commits / TAGS) === 0) text += `reset refs/tags/v${mark}\nfrom :${tip}\n\n`
    if (text.length < 1 << 20) continue
    if (!importer.stdin.write(text)) await once(importer.stdin, 'drain')
    text = ''
  }
  importer.stdin.end(`${text}reset refs/heads/main\nfrom :${tip}\n\n`)
  const [code] = await ended
  if (code !== 0) throw new Error(`git fast-import ended with ${code}`)
}

/** Asks again and again, as people do, until it is stopped; then how long the slowest answer took and the most memory that was held. */
function askOnAndOn(url: string): { stop: () => { slowestMs: number; peakMb: number } } {
  let slowestMs = 0
  let peakMb = 0
  const timer = setInterval(() => {
    const startedMs = performance.now()
    peakMb = Math.max(peakMb, process.memoryUsage().rss / 2 ** 20)
    void fetch(url).then(async (response) => {
      await response.arrayBuffer()
      slowestMs = Math.max(slowestMs, performance.now() - startedMs)
    })
  }, 25)
  return {
    stop: () => {
      clearInterval(timer)
      return { slowestMs, peakMb }
    },
  }
}

/** A start of the server on what was read: how long it takes, and how long the main thread stands still in it. */
async function startAgain(dir: string, commits: number): Promise<{ startSeconds: number; standstillAtStartMs: number }> {
  const delays = monitorEventLoopDelay({ resolution: 5 })
  delays.enable()
  const startedMs = performance.now()
  const owned = buildContext(quietConfig(dir))
  const server = await startServer(owned)
  const startSeconds = (performance.now() - startedMs) / 1000
  if (graphOf(owned.ctx, 'tides').size < commits) throw new Error('the graph is not whole after a start')
  delays.disable()
  await server.stop()
  return { startSeconds: round(startSeconds), standstillAtStartMs: round(delays.max / 1e6) }
}

async function pushSome({
  dir,
  source,
  sync,
}: {
  dir: string
  source: string
  sync: () => Promise<void>
}): Promise<{ oursMs: number; bareMs: number }> {
  const work = join(dir, 'work')
  git(dir, 'clone', '--quiet', '--depth=1', `file://${source}`, work)
  const oursMs: number[] = []
  const bareMs: number[] = []
  for (let round = 0; round < 5; round++) {
    git(
      work,
      '-c',
      'user.name=Somebody',
      '-c',
      'user.email=somebody@tides.example',
      'commit',
      '--quiet',
      '--allow-empty',
      '-m',
      `Push ${round}`,
    )
    git(work, 'push', '--quiet', 'origin', 'HEAD:main')
    const startedMs = performance.now()
    await sync()
    oursMs.push(performance.now() - startedMs)
    bareMs.push(timed(() => git(join(dir, 'bare.git'), 'fetch', '--quiet', source, '+refs/heads/*:refs/heads/*')) * 1000)
  }
  return { oursMs: middle(oursMs), bareMs: middle(bareMs) }
}

/** A long run says where it is. */
export function say(stage: string): void {
  process.stderr.write(`${new Date().toISOString()} ${stage}\n`)
}

export function timed(work: () => void): number {
  const startedMs = performance.now()
  work()
  return (performance.now() - startedMs) / 1000
}
export function middle(values: number[]): number {
  return values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0
}
export function round(value: number): number {
  return Number(value.toFixed(2))
}
