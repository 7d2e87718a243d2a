import { spawn } from 'node:child_process'
import { readFile, rm } from 'node:fs/promises'
import { setPriority } from 'node:os'
import { join } from 'node:path'

export interface ImportPerson {
  name: string
  email: string
}
export interface ImportCommit {
  mark: number
  ref: string
  parents: number[]
  author: ImportPerson
  atMs: number
  message: string
  files: Record<string, string>
}

/** Writes real commits into a bare repository by git fast-import: each with the whole content of its tree. Gives the hash by mark. */
export async function importCommits(dir: string, commits: readonly ImportCommit[]): Promise<Map<number, string>> {
  const marksPath = join(dir, 'import-marks')
  const lines: Buffer[] = []
  const text = (content: string) => lines.push(Buffer.from(content))
  const blob = (content: string) => {
    const bytes = Buffer.from(content)
    text(`data ${bytes.length}\n`)
    lines.push(bytes)
    text('\n')
  }
  for (const commit of commits) {
    const stamp = `${commit.author.name} <${commit.author.email}> ${Math.floor(commit.atMs / 1000)} +0000`
    text(`commit ${commit.ref}\nmark :${commit.mark}\nauthor ${stamp}\ncommitter ${stamp}\n`)
    blob(commit.message)
    const [first, ...others] = commit.parents
    if (first !== undefined) text(`from :${first}\n`)
    for (const parent of others) text(`merge :${parent}\n`)
    text('deleteall\n')
    for (const [path, content] of Object.entries(commit.files).sort(([a], [b]) => (a < b ? -1 : 1))) {
      text(`M 100644 inline ${path}\n`)
      blob(content)
    }
    text('\n')
  }
  text('done\n')
  await run('git', ['fast-import', '--quiet', '--done', '--force', `--export-marks=${marksPath}`], { dir, input: Buffer.concat(lines) })
  const marks = new Map(
    (await readFile(marksPath, 'utf8'))
      .trim()
      .split('\n')
      .map((line) => {
        const [mark = '', sha = ''] = line.split(' ')
        return [Number(mark.slice(1)), sha] as const
      }),
  )
  await rm(marksPath)
  return marks
}

export interface RunOptions {
  dir: string
  input?: Buffer | string
  env?: NodeJS.ProcessEnv
  allowFailure?: boolean
  timeoutMs?: number
  /** Gives way to everything else on the machine. */
  isPatient?: boolean
  /** What it prints, on either way out, as it comes. */
  onOutput?: (chunk: Buffer) => void
}

/** Runs a program without a shell and gives its standard output; git never reads the machine's own settings. */
export function run(
  command: string,
  args: readonly string[],
  { dir, input, env = {}, allowFailure = false, timeoutMs = 60_000, isPatient = false, onOutput = () => {} }: RunOptions,
): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      cwd: dir,
      timeout: timeoutMs,
      stdio: ['pipe', 'pipe', 'pipe'],
      env: {
        PATH: process.env.PATH,
        HOME: '/nonexistent',
        GIT_CONFIG_NOSYSTEM: '1',
        GIT_CONFIG_GLOBAL: '/dev/null',
        GIT_TERMINAL_PROMPT: '0',
        LC_ALL: 'C',
        ...env,
      },
    })
    if (isPatient && child.pid !== undefined) setPriority(child.pid, 10)
    const out: Buffer[] = []
    let errors = ''
    child.stdout.on('data', (chunk: Buffer) => {
      out.push(chunk)
      onOutput(chunk)
    })
    child.stderr.on('data', (chunk: Buffer) => {
      onOutput(chunk)
      errors += chunk.toString('utf8')
    })
    child.stdin.on('error', () => {})
    child.on('error', reject)
    child.on('close', (code) => {
      if (code === 0 || allowFailure) resolve(Buffer.concat(out))
      else reject(new Error(`${command} ${args[0] ?? ''} failed (${code}): ${errors.trim().slice(-300)}`))
    })
    child.stdin.end(input)
  })
}
