import { join } from 'node:path'
import type { Repository } from '@dystracer/core/code/wire'
import { slot, type ServiceContext } from '#platform/context'
import type { GitData, GitMethods } from './git.protocol.js'

const GIT = slot('git worker', ({ threads, config }) =>
  threads.open<GitMethods>({
    name: 'git',
    entry: new URL('./git.worker.js', import.meta.url),
    isProcess: true,
    data: {
      volumePath: join(config.dataDir, 'occurrences.db'),
      dbPath: join(config.dataDir, 'dystracer.db'),
      mirrorsDir: mirrorsDir(config),
      knownHostsFile: join(config.dataDir, 'known_hosts'),
      allowedHosts: config.allowedHosts,
    } satisfies GitData,
  }),
)

/** Whether git itself refused; errors come from its thread by their message alone. */
export function isGitTrouble(error: Error): boolean {
  return /^git .*failed/.test(error.message)
}

/** The process that runs git. */
export function gitWorker(ctx: Pick<ServiceContext, 'use'>) {
  return ctx.use(GIT)
}

/** The files tracked at a commit; null where the mirror does not hold it (never fetched yet, or the host is down). */
export async function trackedFilesOf(ctx: ServiceContext, repository: string, sha: string): Promise<string[] | null> {
  try {
    return await gitWorker(ctx).call('trackedFiles', { dir: mirrorDir(ctx, repository), sha })
  } catch (error) {
    if (error instanceof Error && isGitTrouble(error)) return null
    throw error
  }
}

/** Where the mirrors lie, `{repository}.git` each. */
export function mirrorsDir(config: Pick<ServiceContext['config'], 'dataDir'>): string {
  return join(config.dataDir, 'git')
}
export function mirrorDir(ctx: Pick<ServiceContext, 'config'>, repository: string): string {
  return join(mirrorsDir(ctx.config), `${repository}.git`)
}

/** Where a repository is fetched from: the demo's stand-in moves with its port, so its addresses are kept as `outside:/…`. */
export function fetchUrl(ctx: Pick<ServiceContext, 'config'>, url: string): string {
  return url.startsWith('outside:') ? `${ctx.config.outsideUrl ?? 'http://127.0.0.1:0'}${url.slice(8)}` : url
}

const READING = slot('repositories being read', () => new Map<string, NonNullable<Repository['reading']>>())

/** How far the reading of each repository has come that is being fetched or read just now, by its name. */
export function reading(ctx: Pick<ServiceContext, 'use'>): Map<string, NonNullable<Repository['reading']>> {
  return ctx.use(READING)
}
