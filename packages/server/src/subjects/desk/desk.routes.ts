import { noteAudit, placeOf } from '#subjects/audit/index'
import { mayAnywhere } from '@dystracer/core/people/standing'
import type { z } from 'zod'
import type { ServiceContext } from '#platform/context'
import { RateLimit } from '#platform/http/rate-limit'
import type { Context } from 'koa'
import { type zMe, deskOperations } from '@dystracer/core/desk/wire'
import type { Api } from '#platform/http/api'
import { healthOperations } from '@dystracer/core/desk/health-wire'
import { readDesk } from './desk.views.js'
import { readHealth } from './health.views.js'
import { readMe, readPlaces, search } from './overview.views.js'
import { type NewSession, SESSION_COOKIE, signIn, signUp, whoBySession } from '#subjects/people/index'

/** The project that somebody works in, chosen in the interface. */
const PROJECT_COOKIE = 'dystracer_project'

function meOf(ctx: ServiceContext, koa: Context, session: NewSession): z.infer<typeof zMe> {
  koa.cookies.set(SESSION_COOKIE, session.secret, {
    httpOnly: true,
    secure: koa.secure,
    sameSite: 'lax',
    path: '/',
    expires: new Date(session.expiresAtMs),
    overwrite: true,
  })
  const who = whoBySession(ctx, session.secret)
  if (!who) throw new Error('a session that was just opened is gone')
  return readMe(ctx, who, koa.cookies.get(PROJECT_COOKIE))
}

export function addDeskRoutes(api: Api): void {
  const byAddress = new RateLimit({ burst: 10, perMinute: 10 })
  const byAccount = new RateLimit({ burst: 5, perMinute: 5 })
  api.handle(deskOperations.signIn, async ({ ctx, body, koa }) => {
    byAddress.take(koa.ip, ctx.nowMs())
    byAccount.take(body.email.toLowerCase(), ctx.nowMs())
    return meOf(ctx, koa, await signIn(ctx, body, placeOf(koa)))
  })
  api.handle(deskOperations.signUp, async ({ ctx, body, koa }) => {
    byAddress.take(koa.ip, ctx.nowMs())
    const session = await signUp(ctx, body, placeOf(koa))
    const personId = whoBySession(ctx, session.secret)?.personId ?? null
    noteAudit(ctx, { kind: 'signed-up', actor: `person:${personId}`, about: personId, place: placeOf(koa) })
    return meOf(ctx, koa, session)
  })

  api.handle(deskOperations.readMe, ({ ctx, who, koa }) => {
    const me = readMe(ctx, who, koa.cookies.get(PROJECT_COOKIE))
    return mayAnywhere(who, 'project.read')
      ? me
      : { ...me, people: [], components: [], milestones: [], projects: [], labels: [], sprints: [], releases: [] }
  })
  api.handle(healthOperations.readHealth, ({ ctx }) => readHealth(ctx))
  api.handle(deskOperations.readPlaces, ({ ctx, who }) => readPlaces(ctx, who))
  api.handle(deskOperations.readDesk, ({ ctx, who }) => readDesk(ctx, who))
  api.handle(deskOperations.search, ({ ctx, who, query }) => ({ hits: search(ctx, who, query) }))
}
