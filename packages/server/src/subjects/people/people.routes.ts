import type { Context } from 'koa'
import { RateLimit } from '#platform/http/rate-limit'
import type { Api } from '#platform/http/api'
import { readSignUp } from './accounts.commands.js'
import { giveRole, invitePerson, readProfile, removeMember, renameMe } from './members.commands.js'
import { askReset, changePassword, makeResetLink, resetPassword } from './passwords.commands.js'
import { endSession, listSessions, signOut } from './sessions.commands.js'
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
  api.handle(peopleOperations.invitePerson, ({ ctx, who, params, body }) => invitePerson(ctx, who, { ...body, project: params.project }))
  api.handle(peopleOperations.giveRole, ({ ctx, who, params, body }) => {
    giveRole(ctx, who, { ...params, ...body })
    return {}
  })
  api.handle(peopleOperations.removeMember, ({ ctx, who, params }) => {
    removeMember(ctx, who, params)
    return {}
  })
  api.handle(peopleOperations.makeResetLink, ({ ctx, params }) => ({ link: makeResetLink(ctx, params) }))
  api.handle(peopleOperations.readProfile, ({ ctx, who }) => readProfile(ctx, who))
  api.handle(peopleOperations.renameMe, ({ ctx, who, body }) => {
    renameMe(ctx, who, body.name)
    return readProfile(ctx, who)
  })
  const byPerson = new RateLimit({ burst: 5, perMinute: 5 })
  const secretOf = (koa: Context) => koa.cookies.get(SESSION_COOKIE) ?? ''
  api.handle(peopleOperations.changePassword, async ({ ctx, who, body, koa }) => {
    byPerson.take(who.actor, ctx.nowMs())
    await changePassword(ctx, who, { ...body, secret: secretOf(koa) })
    return {}
  })
  api.handle(peopleOperations.listSessions, ({ ctx, who, koa }) => ({ rows: listSessions(ctx, who, secretOf(koa)) }))
  api.handle(peopleOperations.endSession, ({ ctx, who, params, koa }) => {
    endSession(ctx, who, { ...params, secret: secretOf(koa) })
    return {}
  })
  api.handle(peopleOperations.askReset, ({ ctx, body, koa }) => {
    byAddress.take(koa.ip, ctx.nowMs())
    askReset(ctx, body.email)
    return {}
  })
  api.handle(peopleOperations.resetPassword, async ({ ctx, body, koa }) => {
    byAddress.take(koa.ip, ctx.nowMs())
    await resetPassword(ctx, body)
    return {}
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
