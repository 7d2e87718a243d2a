import { spawn, spawnSync } from 'node:child_process'

export class GitError extends Error {
  constructor(
    readonly args: readonly string[],
    readonly exitCode: number | null,
    readonly stderr: string,
  ) {
    super(`git ${args[0] ?? ''} failed (${exitCode ?? 'killed'}): ${stderr.trim().split('\n').at(-1) ?? ''}`)
    this.name = 'GitError'
  }
}

export interface GitOptions {
  dir: string
  input?: string | Buffer
  maxBytes?: number
  timeoutMs?: number
  /** A protocol that is allowed beside HTTP(S), for an address of that kind. */
  also?: 'file' | 'git' | null
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
 * configuration, hooks, prompts and
 * protocols other than HTTP(S) are shut out. Throws GitError on a non-zero exit, on a time-out, and when the output grows past `maxBytes`.
 */
export function runGit(
  args: readonly string[],
  { dir, input, maxBytes = 64 << 20, timeoutMs = 60_000, also = null }: GitOptions,
): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const child = spawn('git', [...SHUT_OUT, ...args], {
      cwd: dir,
      env: gitEnvironment(also),
      stdio: ['pipe', 'pipe', 'pipe'],
      timeout: timeoutMs,
      killSignal: 'SIGKILL',
    })
    const chunks: Buffer[] = []
    let size = 0
    let stderr = ''
    child.stdout.on('data', (chunk: Buffer) => {
      size += chunk.length
      if (size > maxBytes) child.kill('SIGKILL')
      else chunks.push(chunk)
    })
    child.stderr.on('data', (chunk: Buffer) => {
      if (stderr.length < 4000) stderr += chunk.toString('utf8')
    })
    child.on('error', reject)
    child.on('close', (code) => {
      if (code === 0) resolve(Buffer.concat(chunks))
      else reject(new GitError(args, code, size > maxBytes ? `output over ${maxBytes} bytes` : stderr))
    })
    // A program that ends early closes its input; that shows in its exit code.
    child.stdin.on('error', () => {})
    child.stdin.end(input)
  })
}

function gitEnvironment(also: 'file' | 'git' | null): NodeJS.ProcessEnv {
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

// The one place outside config that looks at the environment: a child needs the search path of its parent.
const pathOfThisProcess = process.env.PATH ?? '/usr/bin:/bin'

/** A full object name and nothing else: what may stand where git expects a revision. */
export function assertSha(text: string): string {
  if (!/^[0-9a-f]{40}(?:[0-9a-f]{24})?$/.test(text)) throw new Error(`not an object name: ${text.slice(0, 80)}`)
  return text
}
