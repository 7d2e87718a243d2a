import { RateLimit } from '#platform/http/rate-limit'
import type { Api } from '#platform/http/api'
import { readSignUp, signOut, invitePerson } from './accounts.commands.js'
import { SESSION_COOKIE } from './who.middleware.js'
import { peopleOperations } from '@dystracer/core/people/wire'

export function addPeopleRoutes(api: Api): void {
  const byAddress = new RateLimit({ burst: 10, perMinute: 10 })
  api.handle(peopleOperations.readSignUp, ({ ctx, params, koa }) => {
    byAddress.take(koa.ip, ctx.nowMs())
    return readSignUp(ctx, params.secret)
  })
  api.handle(peopleOperations.signOut, ({ ctx, koa }) => {
    const secret = koa.cookies.get(SESSION_COOKIE)
    if (secret) signOut(ctx, secret)
    koa.cookies.set(SESSION_COOKIE, null, { path: '/' })
    return {}
  })
  api.handle(peopleOperations.invitePerson, async ({ ctx, who, params, body }) => {
    const project = params.project
    return { personId: await invitePerson(ctx, who, { ...body, project }) }
  })
}
