import { sql } from '#platform/db/statements'
import { slot, type ServiceContext } from '#platform/context'
import { makeHttpCodeHost } from './http-code-host.js'
import { GET_REPOSITORY_BY_NAME } from './code.queries.js'
import type { CodeHost } from './code-host.js'

export const codeHostSlot = slot<CodeHost | null>('code host', ({ config }) =>
  config.codeHost ? makeHttpCodeHost({ baseUrl: config.codeHost.url, token: config.adapterToken }, config.codeHost.serves) : null,
)

/** The code host that a repository lives in; null where plain git is all that there is. */
export function codeHostOf(ctx: Pick<ServiceContext, 'use' | 'db'>, repository: string): CodeHost | null {
  const host = ctx.use(codeHostSlot)
  if (host === null) return null
  const url = sql(ctx.db, GET_REPOSITORY_BY_NAME).get<{ url: string }>({ repository })?.url
  return url !== undefined && host.serves(url) ? host : null
}
