import { Problem } from '@dystracer/core/basics/problem'
import { maySend, type Sent, type Who } from '@dystracer/core/people/who'
import type { Context } from 'koa'
import type { Db } from '#platform/db/open'
import { allowsOrigin } from '#subjects/people/index'
import { projectsOfRepository } from '#subjects/records/index'

const PREFLIGHT_KEPT_S = 600

/**
 * Who sends from outside: the holder of a token that may send this. A token's scope says what, its limits for which project; a web page
 * sends only with a token that names its origin. Throws `wrong-token`, `not-allowed`.
 */
export function requireSender(koa: Context, sent: Sent): Who {
  const who = koa.state.who as Who
  if (who.via !== 'token')
    throw new Problem('wrong-token', {
      detail: `Send "Authorization: Bearer TOKEN" with a token of scope ${sent}${sent === 'mail' ? '' : ' or intake'}.`,
      headers: { 'www-authenticate': 'Bearer' },
    })
  if (!maySend(who.scope, sent))
    throw new Problem('not-allowed', { detail: `This token is of scope ${who.scope}, which sends no ${sent}.` })
  requireOrigin(koa, who)
  return who
}

/** A token that stands in pages sends from their origins alone, and no other token from a page: there anybody could read it. */
function requireOrigin(koa: Context, who: Who): void {
  const origins = who.limits?.origins ?? []
  const origin = koa.get('origin').toLowerCase()
  if (origin === '' && origins.length === 0) return
  if (!origins.includes(origin))
    throw new Problem('not-allowed', {
      detail:
        origins.length === 0
          ? 'This token is for programs, not for web pages: make one of scope telemetry that names the origin of the page.'
          : `This token sends from ${origins.join(', ')}, not from ${origin || 'elsewhere'}.`,
    })
  koa.set('access-control-allow-origin', koa.get('origin'))
  koa.vary('Origin')
}

/** Answers a browser that asks whether its page may send telemetry: yes where some token names its origin. */
export function answerPreflight(db: Db, koa: Context, nowMs: number): void {
  koa.vary('Origin')
  koa.status = 204
  const origin = koa.get('origin')
  if (origin === '' || !allowsOrigin(db, origin, nowMs)) return
  koa.set('access-control-allow-origin', origin)
  koa.set('access-control-allow-methods', 'POST')
  koa.set('access-control-allow-headers', 'authorization, content-type, content-encoding')
  koa.set('access-control-max-age', String(PREFLIGHT_KEPT_S))
}

/** Refuses facts about a repository that is none of the token's project; `null` is a signature, which speaks for the whole host. */
export function requireRepositoryOf(db: Db, who: Who | null, repository: string): void {
  requireProjectOf(who, `repository ${repository}`, () => projectsOfRepository(db, repository))
}

function requireProjectOf(who: Who | null, thing: string, projects: () => readonly string[]): void {
  const project = who?.limits?.project ?? null
  // In the same words whether it is another project's or nowhere: a token learns nothing of what it may not touch.
  if (project !== null && !projects().includes(project))
    throw new Problem('not-allowed', { detail: `This token is for project ${project}, which has no ${thing}. Nothing was stored.` })
}
