import { slot, type ServiceContext } from '#platform/context'
import { makeHttpCodeHost } from './http-code-host.js'
import type { CodeHost } from './code-host.js'

export const codeHostSlot = slot<CodeHost | null>('code host', ({ config }) =>
  config.outsideUrl ? makeHttpCodeHost(config.outsideUrl) : null,
)

/** The connected code host; null when there is none. */
export function codeHostOf(ctx: Pick<ServiceContext, 'use'>): CodeHost | null {
  return ctx.use(codeHostSlot)
}
