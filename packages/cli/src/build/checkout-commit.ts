import { execFile } from 'node:child_process'
import { existsSync } from 'node:fs'
import { mkdir, mkdtemp, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { Refusal } from '../refusal.js'

const git = promisify(execFile)
const GIT_OUTPUT_MAX = 16 << 20

/**
 * Checks a commit out into a new folder below `place`, by way of a bare copy of the repository that is kept there, so that only what is new
 * is fetched. The machine's own git settings and keys prove that it may. Throws a `Refusal` with git's own words.
 */
export async function checkoutCommit(
  place: string,
  { repository, url, sha }: { repository: string; url: string; sha: string },
): Promise<string> {
  const kept = join(place, `${repository.replace(/[^\w.-]/g, '_')}.git`)
  await mkdir(place, { recursive: true })
  if (!existsSync(join(kept, 'HEAD'))) await run(['init', '--quiet', '--bare', '--', kept])
  const isHere = await run(['-C', kept, 'cat-file', '-e', `${sha}^{commit}`]).then(
    () => true,
    () => false,
  )
  if (!isHere)
    await run(['-C', kept, 'fetch', '--quiet', '--force', '--prune', '--', url, '+refs/heads/*:refs/heads/*', '+refs/tags/*:refs/tags/*'])
  const folder = await mkdtemp(join(place, 'build-'))
  try {
    await run(['clone', '--quiet', '--shared', '--no-checkout', '--', kept, folder])
    await run(['-C', folder, '-c', 'core.hooksPath=/dev/null', '-c', 'advice.detachedHead=false', 'checkout', '--quiet', '--detach', sha])
    return folder
  } catch (error) {
    await rm(folder, { recursive: true, force: true })
    throw error
  }
}

async function run(args: string[]): Promise<void> {
  try {
    await git('git', args, { maxBuffer: GIT_OUTPUT_MAX, env: { ...process.env, GIT_TERMINAL_PROMPT: '0' } })
  } catch (error) {
    const { stderr = '', code } = error as { stderr?: string; code?: unknown }
    if (code === 'ENOENT') throw new Refusal('git is not on this machine.', { exitCode: 1 })
    throw new Refusal(`git ${args.find((arg) => /^[a-z-]+$/.test(arg) && arg !== '-c') ?? ''}: ${stderr.trim() || String(error)}`, {
      exitCode: 1,
    })
  }
}
