import { STRANGER, type Who } from '@dystracer/core/people/who'
import type { Context, Middleware } from 'koa'
import { Problem } from '@dystracer/core/basics/problem'
import { archivedProjects } from './access.js'
import { whoBySession } from './sessions.commands.js'
import { whoByToken } from './tokens.commands.js'
import type { ServiceContext } from '#platform/context'

export const SESSION_COOKIE = 'dys_session'

/** Finds out who is asking, by token or session, and refuses changes by a browser that did not come from this application (CSRF). */
export function whoMiddleware(ctx: ServiceContext): Middleware {
  return async (koa, next) => {
    // OTLP paths answer a wrong token in their own way, so they ask for themselves.
    if (koa.path.startsWith('/otlp/')) return next()
    const who = { ...identify(ctx, koa), archived: archivedProjects(ctx.db) }
    if (who.via === 'session' && koa.method !== 'GET' && koa.method !== 'HEAD') checkCsrf(koa, who)
    koa.state.who = who
    await next()
  }
}

/** Who is asking; throws `wrong-token` for a token that is not ours. */
export function identify(ctx: ServiceContext, koa: Context): Who {
  const bearer = /^Bearer\s+(\S+)$/i.exec(koa.get('authorization'))?.[1]
  if (bearer) {
    const who = whoByToken(ctx, bearer, koa.ip)
    if (!who) throw new Problem('wrong-token', { headers: { 'www-authenticate': 'Bearer' } })
    return who
  }
  const secret = koa.cookies.get(SESSION_COOKIE)
  return (secret && whoBySession(ctx, secret)) || { ...STRANGER, everywhere: ctx.config.mayReadUnsigned ? 'reader' : null }
}

function checkCsrf(koa: Context, who: Who): void {
  const site = koa.get('sec-fetch-site')
  const isSameSite = site === '' || site === 'same-origin' || site === 'none'
  if (!isSameSite || koa.get('x-dystracer-csrf') !== who.csrfToken)
    throw new Problem('csrf-failed', { detail: 'Reload the page and try again; nothing was changed.' })
}
