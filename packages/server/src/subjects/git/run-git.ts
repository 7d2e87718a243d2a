import { spawn, spawnSync, type ChildProcess } from 'node:child_process'

/** What git ends with whenever a remote ends the talk: what the remote or ssh said stands before it. */
const SAYS_NOTHING =
  /^(?:fatal: Could not read from remote repository\.|Please make sure you have the correct access rights|and the repository exists\.)$/

/** The line of what git said that tells the reason. */
function tellingLine(stderr: string): string {
  const lines = stderr
    .trim()
    .split('\n')
    .map((line) => line.trim())
  return lines.findLast((line) => line !== '' && !SAYS_NOTHING.test(line)) ?? lines[0] ?? ''
}

export class GitError extends Error {
  constructor(
    readonly args: readonly string[],
    readonly exitCode: number | null,
    readonly stderr: string,
    /** It was ended since it gave more than was asked for. */
    readonly isTooMuch = false,
    readonly stdout = '',
  ) {
    super(`git ${args[0] ?? ''} failed (${exitCode ?? 'ended'}): ${tellingLine(stderr)}`)
    this.name = 'GitError'
  }
}

export interface GitOptions {
  dir: string
  input?: string | Buffer
  maxBytes?: number
  /** So long it may take in all; 0 for no end. */
  timeoutMs?: number
  /** So long it may say nothing at all, on either output. */
  silenceMs?: number
  /** Ends it at once when it is aborted. */
  signal?: AbortSignal
  /** Hears what it says of its progress, piece by piece. */
  onStderr?: (text: string) => void
  /** A second git program that reads what the first one writes; its output is what is given. */
  into?: readonly string[]
  /** A protocol that is allowed beside HTTP(S), for an address of that kind. */
  also?: 'file' | 'git' | 'ssh' | null
  /** Variables beside git's own, such as those by which a login is given. */
  environment?: Readonly<Record<string, string>>
  /** Settings in front of the command, such as those of `reach`. */
  settings?: readonly string[]
  /** Who author and committer of a new commit are. */
  identity?: { name: string; email: string }
  /** Whose work a new commit is and since when, where that is another than `identity`. */
  author?: { name: string; email: string; atMs: number }
}

const running = new Set<ChildProcess>()

/** Ends every git that runs for this process, so that none outlives it. */
export function endRunning(): void {
  for (const program of running) endWithHelpers(program)
}

/** Ends a git and the programs that it started to speak with a remote: they are one group, and would go on without it. */
function endWithHelpers(program: ChildProcess): void {
  if (program.pid === undefined || program.exitCode !== null || program.signalCode !== null) return
  try {
    process.kill(-program.pid, 'SIGKILL')
  } catch {
    // It ended by itself just now.
  }
}

const SHUT_OUT = ['-c', 'core.hooksPath=/dev/null', '-c', 'core.quotePath=false', '-c', 'gc.auto=0', '-c', 'safe.directory=*'] as const

/** The same as `runGit`, for a worker that has nothing else to do until the answer is there; null on any failure. */
export function runGitNow(
  args: readonly string[],
  { dir, maxBytes = 64 << 20, timeoutMs = 20_000 }: Omit<GitOptions, 'input' | 'also'>,
): Buffer | null {
  const { status, stdout } = spawnSync('git', [...SHUT_OUT, ...args], {
    cwd: dir,
    env: gitEnvironment(null),
    stdio: ['ignore', 'pipe', 'ignore'],
    maxBuffer: maxBytes,
    timeout: timeoutMs,
    killSignal: 'SIGKILL',
  })
  return status === 0 ? stdout : null
}

/**
 * Runs the git program in a repository and gives its output. Arguments are an array and never pass a shell; the machine's own
 * configuration, hooks, prompts and protocols other than HTTP(S) are shut out. With `into`, a second git reads the first one's
 * output from pipe to pipe, so that no size of it is held here. Throws GitError on a non-zero exit, on a time-out or a silence, when
 * aborted, and when the output grows past `maxBytes`.
 */
export function runGit(
  args: readonly string[],
  {
    dir,
    input,
    maxBytes = 64 << 20,
    timeoutMs = 60_000,
    silenceMs = 0,
    signal,
    onStderr,
    into,
    identity,
    author,
    settings = [],
    environment = {},
    also = null,
  }: GitOptions,
): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const start = (each: readonly string[]) => {
      const program = spawn('git', [...SHUT_OUT, ...settings, ...each], {
        cwd: dir,
        env: { ...gitEnvironment(also), ...environment, ...identityOf(identity), ...authorOf(author) },
        stdio: ['pipe', 'pipe', 'pipe'],
        // The head of a group of its own: see endWithHelpers.
        detached: true,
      })
      running.add(program)
      return program.on('close', () => running.delete(program))
    }
    const first = start(args)
    const last = into ? start(into) : first
    const programs = into ? [first, last] : [first]
    const chunks: Buffer[] = []
    let size = 0
    let stderr = ''
    let reason = ''
    const end = (why: string) => {
      reason ||= why
      for (const program of programs) endWithHelpers(program)
    }
    const whole = timeoutMs > 0 ? setTimeout(() => end(`took longer than ${timeoutMs / 1000} s`), timeoutMs) : undefined
    const silence = silenceMs > 0 ? setTimeout(() => end(`said nothing for ${silenceMs / 1000} s`), silenceMs) : undefined
    const onAbort = () => end('was called off')
    if (signal?.aborted) onAbort()
    signal?.addEventListener('abort', onAbort)
    let open = programs.length
    let exitCode: number | null = 0
    const settle = (code: number | null) => {
      if (code !== 0) exitCode = code
      if (--open > 0) return
      clearTimeout(whole)
      clearTimeout(silence)
      signal?.removeEventListener('abort', onAbort)
      if (exitCode === 0 && reason === '') resolve(Buffer.concat(chunks))
      else reject(new GitError(args, exitCode, reason || stderr, size > maxBytes, Buffer.concat(chunks).toString('utf8', 0, 64_000)))
    }
    last.stdout.on('data', (chunk: Buffer) => {
      silence?.refresh()
      size += chunk.length
      if (size > maxBytes) end(`output over ${maxBytes} bytes`)
      else chunks.push(chunk)
    })
    for (const program of programs) {
      program.stderr.on('data', (chunk: Buffer) => {
        silence?.refresh()
        const text = chunk.toString('utf8')
        onStderr?.(text)
        stderr = (stderr + text).slice(-4000)
      })
      // The folder is gone, as after a restore without its copies: for those who asked, git has no answer.
      program.on('error', (error) => reject(new GitError(args, null, error.message)))
      program.on('close', settle)
      // A program that ends early closes its input; that shows in its exit code.
      program.stdin.on('error', () => {})
    }
    if (into) first.stdout.pipe(last.stdin)
    first.stdin.end(input)
  })
}

function gitEnvironment(also: GitOptions['also'] = null): NodeJS.ProcessEnv {
  return {
    PATH: pathOfThisProcess,
    HOME: '/nonexistent',
    GIT_CONFIG_NOSYSTEM: '1',
    GIT_CONFIG_GLOBAL: '/dev/null',
    GIT_TERMINAL_PROMPT: '0',
    GIT_ALLOW_PROTOCOL: also === null ? 'http:https' : `http:https:${also}`,
    GIT_OPTIONAL_LOCKS: '0',
    LC_ALL: 'C',
  }
}

function identityOf(identity: GitOptions['identity']): NodeJS.ProcessEnv {
  if (!identity) return {}
  const { name, email } = identity
  return { GIT_AUTHOR_NAME: name, GIT_AUTHOR_EMAIL: email, GIT_COMMITTER_NAME: name, GIT_COMMITTER_EMAIL: email }
}

function authorOf(author: GitOptions['author']): NodeJS.ProcessEnv {
  if (!author) return {}
  const { name, email, atMs } = author
  return { GIT_AUTHOR_NAME: name, GIT_AUTHOR_EMAIL: email, GIT_AUTHOR_DATE: `@${Math.floor(atMs / 1000)} +0000` }
}

// The one place outside config that looks at the environment: a child needs the search path of its parent.
const pathOfThisProcess = process.env.PATH ?? '/usr/bin:/bin'

/** A full object name and nothing else: what may stand where git expects a revision. */
export function assertSha(text: string): string {
  if (!/^[0-9a-f]{40}(?:[0-9a-f]{24})?$/.test(text)) throw new Error(`not an object name: ${text.slice(0, 80)}`)
  return text
}
