import { join } from 'node:path'
import type { ServiceContext } from '#platform/context'

/** Where the mirrors lie, `{repository}.git` each. */
export function mirrorsDir(config: Pick<ServiceContext['config'], 'dataDir'>): string {
  return join(config.dataDir, 'git')
}
export function mirrorDir(ctx: Pick<ServiceContext, 'config'>, repository: string): string {
  return join(mirrorsDir(ctx.config), `${repository}.git`)
}
