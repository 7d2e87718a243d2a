import { slot, type ServiceContext } from '#platform/context'
import { makeHttpDeployer } from './http-deployer.js'
import type { Deployer } from './deployer.js'

export const deployerSlot = slot<Deployer | null>('deployer', ({ config }) =>
  config.deployerUrl ? makeHttpDeployer({ baseUrl: config.deployerUrl, token: config.adapterToken }) : null,
)

/** The connected deployer; null when there is none. */
export function deployerOf(ctx: Pick<ServiceContext, 'use'>): Deployer | null {
  return ctx.use(deployerSlot)
}
