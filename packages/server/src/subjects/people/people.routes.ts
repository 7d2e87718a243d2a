import { RateLimit } from '#platform/http/rate-limit'
import type { Api } from '#platform/http/api'
import { readSignUp, signOut, invitePerson } from './accounts.commands.js'
import { SESSION_COOKIE } from './who.middleware.js'
import { listOwnTokens, listTokens, makeOwnToken, makeProjectToken, revokeOwnToken, revokeToken, rotateToken } from './tokens.commands.js'
import { tokenOperations } from '@dystracer/core/people/token-wire'
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
  api.handle(tokenOperations.listTokens, ({ ctx, who, params }) => ({ rows: listTokens(ctx, who, params.project) }))
  api.handle(tokenOperations.makeToken, ({ ctx, who, params, body }) => makeProjectToken(ctx, who, params.project, body))
  api.handle(tokenOperations.rotateToken, ({ ctx, who, params, body }) => rotateToken(ctx, who, { ...params, ...body }))
  api.handle(tokenOperations.revokeToken, ({ ctx, who, params }) => {
    revokeToken(ctx, who, params)
    return {}
  })
  api.handle(tokenOperations.listOwnTokens, ({ ctx, who }) => ({ rows: listOwnTokens(ctx, who) }))
  api.handle(tokenOperations.makeOwnToken, ({ ctx, who, body }) => makeOwnToken(ctx, who, body))
  api.handle(tokenOperations.revokeOwnToken, ({ ctx, who, params }) => {
    revokeOwnToken(ctx, who, params.tokenId)
    return {}
  })
}
