import { execFileSync } from 'node:child_process'
import { basename } from 'node:path'
import { Refusal } from './refusal.js'

/** What git knows of the folder that a command runs in; null for what it does not know. */
export interface Checkout {
  commit: string | null
  branch: string | null
  repository: string | null
}

/** Reads commit, branch and the repository's name (the last part of `origin`'s address) from git. */
export function readCheckout(cwd: string): Checkout {
  const origin = git(cwd, ['remote', 'get-url', 'origin'])
  const branch = git(cwd, ['symbolic-ref', '--short', '-q', 'HEAD'])
  return { commit: git(cwd, ['rev-parse', '-q', '--verify', 'HEAD']), branch, repository: origin && nameOf(origin) }
}

/** The name of a repository by its address: `https://git.example.org/kiln/firmware.git` is `firmware`. */
export function nameOf(address: string): string | null {
  const name = basename(address.replace(/[/\\]+$/, '').replace(/^.*:/, '/')).replace(/\.git$/, '')
  return name === '' ? null : name
}

/** The value, or a `Refusal` that says which option gives it. */
export function needed(value: string | null | undefined, option: string, what: string): string {
  if (value) return value
  throw new Refusal(`Say ${what} with ${option}; git does not tell it here.`, { exitCode: 2 })
}

function git(cwd: string, args: string[]): string | null {
  try {
    return execFileSync('git', args, { cwd, encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] }).trim() || null
  } catch (error) {
    // No git on the machine, or no repository around the folder: the options say it then.
    if ((error as { code?: unknown }).code === 'ENOENT' || typeof (error as { status?: unknown }).status === 'number') return null
    throw error
  }
}
