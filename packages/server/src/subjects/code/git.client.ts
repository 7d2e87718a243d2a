import { join } from 'node:path'
import { slot, type ServiceContext } from '#platform/context'
import type { GitData, GitMethods } from './git.protocol.js'
import { mirrorsDir } from './mirror-places.js'

const GIT = slot('git worker', ({ threads, config }) =>
  threads.open<GitMethods>({
    name: 'git',
    entry: new URL('./git.worker.js', import.meta.url),
    data: {
      volumePath: join(config.dataDir, 'occurrences.db'),
      dbPath: join(config.dataDir, 'dystracer.db'),
      mirrorsDir: mirrorsDir(config),
      allowedHosts: config.allowedHosts,
    } satisfies GitData,
  }),
)

/** Whether git itself refused; errors come from its thread by their message alone. */
export function isGitTrouble(error: Error): boolean {
  return /^git .*failed/.test(error.message)
}

/** The thread that runs git. */
export function gitWorker(ctx: Pick<ServiceContext, 'use'>) {
  return ctx.use(GIT)
}
