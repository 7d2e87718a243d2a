import { execFile } from 'node:child_process'
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { hostOf, type Reach } from './reach.js'
import { GitError, type GitOptions } from './run-git.js'

/** What proves to a remote that we may read (and push): a name with a secret over HTTP, or a key over ssh. */
export type GitAccess = { kind: 'login'; userName: string; secret: string } | { kind: 'key'; privateKey: string }

/** How git goes out to remotes from this machine. */
export interface Outside {
  reach: Reach
  /** Where the ssh keys of hosts are remembered: the first one is believed, another one later is refused. */
  knownHostsFile: string
}

/**
 * Runs git against a remote: held to where it may go, and with what proves the right to. Secrets are given by the environment and by a file
 * that lives as long as the run does, never by arguments, which others on the machine can read.
 */
export async function goOut<T>(
  { reach, knownHostsFile }: Outside,
  { url, access }: { url: string; access: GitAccess | null },
  run: (options: Pick<GitOptions, 'also' | 'settings' | 'environment'>) => Promise<T>,
): Promise<T> {
  const held = await reach(url)
  const { protocol } = hostOf(url)
  // A redirect never leads to another protocol than the address's own, so never from the net to a file.
  const also = protocol === 'file' || protocol === 'git' || protocol === 'ssh' ? protocol : null
  if (protocol !== 'ssh') return run({ also, settings: held.settings, environment: access?.kind === 'login' ? loginOf(access) : {} })
  if (access?.kind !== 'key') throw new GitError(['connect'], null, 'an address by ssh is read with a key; make one for it')
  const dir = await mkdtemp(join(tmpdir(), 'dystracer-key-'))
  try {
    const keyFile = join(dir, 'key')
    await writeFile(keyFile, access.privateKey, { mode: 0o600 })
    const command = ['ssh', ...SSH_OPTIONS, ...held.ssh, `UserKnownHostsFile=${quoted(knownHostsFile)}`, `IdentityFile=${quoted(keyFile)}`]
    return await run({
      also,
      settings: held.settings,
      environment: { GIT_SSH_COMMAND: command.map(asOption).join(' '), GIT_SSH_VARIANT: 'ssh' },
    })
  } finally {
    await rm(dir, { recursive: true, force: true })
  }
}

/** No file of the machine's user counts, nothing is ever asked for, and nothing but the one key is offered. */
const SSH_OPTIONS = [
  '-F/dev/null',
  'BatchMode=yes',
  'IdentitiesOnly=yes',
  'IdentityAgent=none',
  'StrictHostKeyChecking=accept-new',
  'GlobalKnownHostsFile=/dev/null',
  'ConnectTimeout=20',
  'ServerAliveInterval=30',
  'ClearAllForwardings=yes',
] as const

/** `ssh` and its flags stand as they are; settings become `-o` with the value quoted for the shell that git hands the line to. */
function asOption(part: string): string {
  return part.includes('=') ? `-o '${part.replaceAll("'", "'\\''")}'` : part
}

/** ssh reads a path up to a space, unless it is quoted. */
function quoted(path: string): string {
  return `"${path}"`
}

/** The login as a header, by git's own settings in the environment; for no address but the one asked, since redirects are not followed. */
function loginOf({ userName, secret }: Extract<GitAccess, { kind: 'login' }>): Record<string, string> {
  const header = `Authorization: Basic ${Buffer.from(`${userName}:${secret}`).toString('base64')}`
  return { GIT_CONFIG_COUNT: '1', GIT_CONFIG_KEY_0: 'http.extraHeader', GIT_CONFIG_VALUE_0: header }
}

/** A new pair of keys (Ed25519) in OpenSSH's own form. Throws GitError where the machine has no `ssh-keygen`. */
export async function makeKeyPair(comment: string): Promise<{ privateKey: string; publicKey: string }> {
  const dir = await mkdtemp(join(tmpdir(), 'dystracer-key-'))
  try {
    const file = join(dir, 'key')
    await promisify(execFile)('ssh-keygen', ['-q', '-t', 'ed25519', '-N', '', '-C', comment, '-f', file], { timeout: 20_000 })
    return { privateKey: await readFile(file, 'utf8'), publicKey: (await readFile(`${file}.pub`, 'utf8')).trim() }
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error
    throw new GitError(['connect'], null, 'the server has no ssh-keygen; whoever runs it can install openssh-client')
  } finally {
    await rm(dir, { recursive: true, force: true })
  }
}
