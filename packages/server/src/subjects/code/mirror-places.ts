import { join } from 'node:path'
import type { ServiceContext } from '#platform/context'

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
