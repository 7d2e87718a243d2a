import type { z } from 'zod'
import { zEmpty } from '@dystracer/core/basics/wire'
import { zDesk, zMe, zPlaces, zSearch, zSearchQuery } from '@dystracer/core/desk/wire'
import { zSignIn, zSignUp } from '@dystracer/core/people/wire'
import { zThread } from '@dystracer/core/threads/wire'
import { zInvitedPerson } from '@dystracer/core/people/wire'
import type { Context } from 'koa'
import { RateLimit } from '#platform/http/rate-limit'
import { SESSION_COOKIE } from '#subjects/people/who-middleware'
import { readSignUp, signIn, signOut, signUp, whoBySession, type NewSession } from '#subjects/people/accounts.commands'
import { readDesk } from '#subjects/desk/desk.views'
import { readMe, readPlaces, search } from '#subjects/desk/overview.views'
import { readThread } from '#subjects/threads/threads.views'
import type { ServiceContext } from '#platform/context'
import type { Api } from '#platform/http/api'

/** The project that somebody works in, chosen in the interface. */
const PROJECT_COOKIE = 'dystracer_project'

export function addOverviewRoutes(api: Api): void {
  const byAddress = new RateLimit({ burst: 10, perMinute: 10 })
  const byAccount = new RateLimit({ burst: 5, perMinute: 5 })
  api.add({
    method: 'post',
    path: '/session',
    summary: 'Sign in',
    body: zSignIn,
    answer: zMe,
    isPublic: true,
    handle: async ({ ctx, body, koa }) => {
      byAddress.take(koa.ip, ctx.nowMs())
      byAccount.take(body.email.toLowerCase(), ctx.nowMs())
      return meOf(ctx, koa, await signIn(ctx, body))
    },
  })
  api.add({
    method: 'post',
    path: '/sign-up',
    summary: 'Sign up by the link of an invitation, or as the first administrator',
    body: zSignUp,
    answer: zMe,
    isPublic: true,
    handle: async ({ ctx, body, koa }) => {
      byAddress.take(koa.ip, ctx.nowMs())
      return meOf(ctx, koa, await signUp(ctx, body))
    },
  })
  api.add({
    method: 'get',
    path: '/sign-up/:secret',
    summary: 'Whom a sign-up link is for',
    answer: zInvitedPerson,
    isPublic: true,
    handle: ({ ctx, params, koa }) => {
      byAddress.take(koa.ip, ctx.nowMs())
      return readSignUp(ctx, params.secret ?? '')
    },
  })
  api.add({
    method: 'delete',
    path: '/session',
    summary: 'Sign out',
    answer: zEmpty,
    isPublic: true,
    handle: ({ ctx, koa }) => {
      const secret = koa.cookies.get(SESSION_COOKIE)
      if (secret) signOut(ctx, secret)
      koa.cookies.set(SESSION_COOKIE, null, { path: '/' })
      return {}
    },
  })
  api.add({
    method: 'get',
    path: '/me',
    summary: 'Who is asking, and what the interface needs to know',
    answer: zMe,
    isPublic: true,
    handle: ({ ctx, who, koa }) => {
      const me = readMe(ctx, who, koa.cookies.get(PROJECT_COOKIE))
      return who.role === null ? { ...me, people: [], components: [], milestones: [], projects: [], labels: [], sprints: [], releases: [] } : me
    },
  })
  api.add({ method: 'get', path: '/places', summary: 'Counts of the index', answer: zPlaces, handle: ({ ctx, who }) => readPlaces(ctx, who) })
  api.add({ method: 'get', path: '/desk', summary: 'What waits and what is under way', answer: zDesk, handle: ({ ctx, who }) => readDesk(ctx, who) })
  api.add({
    method: 'get',
    path: '/search',
    summary: 'Things by key, hash or words',
    query: zSearchQuery,
    answer: zSearch,
    handle: ({ ctx, who, query }) => ({ hits: search(ctx, who, query) }),
  })
  api.add({
    method: 'get',
    path: '/threads/*id',
    summary: 'The thread of anything',
    answer: zThread,
    handle: ({ ctx, who, params }) => readThread(ctx, who, params.id ?? ''),
  })
}

function meOf(ctx: ServiceContext, koa: Context, session: NewSession): z.infer<typeof zMe> {
  koa.cookies.set(SESSION_COOKIE, session.secret, {
    httpOnly: true,
    sameSite: 'lax',
    path: '/',
    expires: new Date(session.expiresAtMs),
    overwrite: true,
  })
  const who = whoBySession(ctx, session.secret)
  if (!who) throw new Error('a session that was just opened is gone')
  return readMe(ctx, who, koa.cookies.get(PROJECT_COOKIE))
}
