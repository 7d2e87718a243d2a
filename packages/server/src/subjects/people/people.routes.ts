import { Readable } from 'node:stream'
import type { Context } from 'koa'
import type { AuditKind } from '@dystracer/core/people/audit-wire'
import { auditOperations } from '@dystracer/core/people/audit-wire'
import { secondFactorOperations } from '@dystracer/core/people/second-factor-wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { RateLimit } from '#platform/http/rate-limit'
import type { Api } from '#platform/http/api'
import { auditAsCsv, listAudit, noteAudit, placeOf } from '#subjects/audit/index'
import { readSignUp } from './accounts.commands.js'
import { addressesOf, claimAddress, confirmAddress, giveUpAddress, readProfile, writeAddressDown } from './addresses.commands.js'
import { changeMe, giveRole, invitePerson, removeMember, requireMember } from './members.commands.js'
import { askReset, changePassword, makeResetLink, resetPassword } from './passwords.commands.js'
import { endSession, listSessions, proveAgain, signOut } from './sessions.commands.js'
import { beginSecondFactor, confirmSecondFactor, endSecondFactor, readSecondFactor } from './second-factor.commands.js'
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
  api.handle(peopleOperations.invitePerson, ({ ctx, who, params, body, koa }) => {
    const invited = invitePerson(ctx, who, { ...body, project: params.project })
    note(ctx, { koa, who }, 'invited', body.email, { project: params.project, role: body.role })
    return invited
  })
  api.handle(peopleOperations.giveRole, ({ ctx, who, params, body, koa }) => {
    giveRole(ctx, who, { ...params, ...body })
    note(ctx, { koa, who }, 'role-changed', params.personId, { project: params.project, role: body.role })
    return {}
  })
  api.handle(peopleOperations.removeMember, ({ ctx, who, params, koa }) => {
    removeMember(ctx, who, params)
    note(ctx, { koa, who }, 'member-removed', params.personId, { project: params.project })
    return {}
  })
  api.handle(peopleOperations.makeResetLink, ({ ctx, who, params, koa }) => {
    const link = makeResetLink(ctx, params)
    note(ctx, { koa, who }, 'reset-link-made', params.personId)
    return { link }
  })
  api.handle(peopleOperations.readProfile, ({ ctx, who }) => readProfile(ctx, who))
  api.handle(peopleOperations.changeMe, ({ ctx, who, body }) => {
    changeMe(ctx, who, body)
    return readProfile(ctx, who)
  })
  const byPerson = new RateLimit({ burst: 5, perMinute: 5 })
  api.handle(peopleOperations.claimAddress, ({ ctx, who, body }) => {
    byPerson.take(who.actor, ctx.nowMs())
    claimAddress(ctx, who, body.email)
    return readProfile(ctx, who)
  })
  api.handle(peopleOperations.confirmAddress, ({ ctx, who, body, koa }) => {
    const confirmed = confirmAddress(ctx, who, body.secret)
    note(ctx, { koa, who }, 'address-confirmed', who.personId, { address: confirmed.email })
    return confirmed
  })
  api.handle(peopleOperations.giveUpAddress, ({ ctx, who, params, koa }) => {
    giveUpAddress(ctx, who, params.email)
    note(ctx, { koa, who }, 'address-given-up', who.personId, { address: params.email })
    return readProfile(ctx, who)
  })
  api.handle(peopleOperations.listAddresses, ({ ctx, params }) => {
    requireMember(ctx.db, params)
    return { rows: addressesOf(ctx.db, params.personId) }
  })
  api.handle(peopleOperations.writeAddressDown, ({ ctx, who, params, body, koa }) => {
    writeAddressDown(ctx, who, { ...params, ...body })
    note(ctx, { koa, who }, 'address-confirmed', params.personId, { address: body.email })
    return { rows: addressesOf(ctx.db, params.personId) }
  })
  const secretOf = (koa: Context) => koa.cookies.get(SESSION_COOKIE) ?? ''
  api.handle(peopleOperations.proveAgain, async ({ ctx, who, body, koa }) => {
    byPerson.take(who.actor, ctx.nowMs())
    await proveAgain(ctx, who, { ...body, secret: secretOf(koa), place: placeOf(koa) })
    return {}
  })
  api.handle(peopleOperations.changePassword, async ({ ctx, who, body, koa }) => {
    byPerson.take(who.actor, ctx.nowMs())
    await changePassword(ctx, who, { ...body, secret: secretOf(koa) })
    note(ctx, { koa, who }, 'password-changed', who.personId)
    return {}
  })
  api.handle(peopleOperations.listSessions, ({ ctx, who, koa }) => ({ rows: listSessions(ctx, who, secretOf(koa)) }))
  api.handle(peopleOperations.endSession, ({ ctx, who, params, koa }) => {
    endSession(ctx, who, { ...params, secret: secretOf(koa) })
    note(ctx, { koa, who }, 'signed-out-elsewhere', who.personId)
    return {}
  })
  api.handle(peopleOperations.askReset, ({ ctx, body, koa }) => {
    byAddress.take(koa.ip, ctx.nowMs())
    askReset(ctx, body.email)
    return {}
  })
  api.handle(peopleOperations.resetPassword, async ({ ctx, body, koa }) => {
    byAddress.take(koa.ip, ctx.nowMs())
    const personId = await resetPassword(ctx, body)
    noteAudit(ctx, { kind: 'password-reset', actor: `person:${personId}`, about: personId, place: placeOf(koa) })
    return {}
  })
  api.handle(tokenOperations.listTokens, ({ ctx, who, params }) => ({ rows: listTokens(ctx, who, params.project) }))
  api.handle(tokenOperations.makeToken, ({ ctx, who, params, body, koa }) => {
    const made = makeProjectToken(ctx, who, params.project, body)
    note(ctx, { koa, who }, 'token-made', body.name, { project: params.project, scope: body.scope })
    return made
  })
  api.handle(tokenOperations.rotateToken, ({ ctx, who, params, body, koa }) => {
    const made = rotateToken(ctx, who, { ...params, ...body })
    note(ctx, { koa, who }, 'token-rotated', made.row.name, { project: params.project })
    return made
  })
  api.handle(tokenOperations.revokeToken, ({ ctx, who, params, koa }) => {
    const name = revokeToken(ctx, who, params)
    note(ctx, { koa, who }, 'token-taken-back', name, { project: params.project })
    return {}
  })
  api.handle(tokenOperations.listOwnTokens, ({ ctx, who }) => ({ rows: listOwnTokens(ctx, who) }))
  api.handle(tokenOperations.makeOwnToken, ({ ctx, who, body, koa }) => {
    const made = makeOwnToken(ctx, who, body)
    note(ctx, { koa, who }, 'token-made', body.name, { scope: body.scope })
    return made
  })
  api.handle(tokenOperations.revokeOwnToken, ({ ctx, who, params, koa }) => {
    const name = revokeOwnToken(ctx, who, params.tokenId)
    note(ctx, { koa, who }, 'token-taken-back', name)
    return {}
  })
  api.handle(secondFactorOperations.readSecondFactor, ({ ctx, who }) => readSecondFactor(ctx, who))
  api.handle(secondFactorOperations.beginSecondFactor, ({ ctx, who, body }) => {
    byPerson.take(who.actor, ctx.nowMs())
    return beginSecondFactor(ctx, who, body.password)
  })
  api.handle(secondFactorOperations.confirmSecondFactor, ({ ctx, who, body, koa }) => {
    byPerson.take(who.actor, ctx.nowMs())
    const recoveryCodes = confirmSecondFactor(ctx, who, body.code)
    note(ctx, { koa, who }, 'second-factor-set', who.personId)
    return { recoveryCodes }
  })
  api.handle(secondFactorOperations.endSecondFactor, async ({ ctx, who, body, koa }) => {
    byPerson.take(who.actor, ctx.nowMs())
    await endSecondFactor(ctx, who, body.password)
    note(ctx, { koa, who }, 'second-factor-ended', who.personId)
    return readSecondFactor(ctx, who)
  })
  api.handle(auditOperations.listAudit, ({ ctx, query }) => listAudit(ctx, query))
  api.handle(auditOperations.exportAudit, ({ ctx, koa }) => {
    koa.set({ 'content-type': 'text/csv; charset=utf-8', 'content-disposition': 'attachment; filename="audit.csv"' })
    koa.body = Readable.from(auditAsCsv(ctx))
  })
}

/** Notes what somebody did who proved who they are. */
function note(
  ctx: ServiceContext,
  { koa, who }: { koa: Context; who: Who },
  kind: AuditKind,
  about: string | null,
  facts: Record<string, string> = {},
): void {
  noteAudit(ctx, { kind, actor: who.actor, about, place: placeOf(koa), facts })
}
