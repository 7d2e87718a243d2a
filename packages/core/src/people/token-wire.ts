import { zAtMs, zEmpty } from '#basics/wire'
import { z } from 'zod'
import { operation } from './operation.js'
import { SCOPES } from './who.js'

const DAYS_MAX = 3650

/** An access token as it is listed: everything but the token itself, which is shown once. */
export const zToken = z.object({
  tokenId: z.string(),
  name: z.string(),
  scope: z.enum(SCOPES),
  /** The only project that it is for; null for all. */
  project: z.string().nullable(),
  services: z.array(z.string()),
  origins: z.array(z.string()),
  /** Whose rights it has; null for a program's own. */
  personId: z.string().nullable(),
  madeBy: z.string().nullable(),
  madeAtMs: zAtMs,
  expiresAtMs: zAtMs.nullable(),
  /** To the minute. */
  lastUsedAtMs: zAtMs.nullable(),
})
export type Token = z.infer<typeof zToken>

const zTokenName = z.string().trim().min(1, 'A name is needed').max(60)
const zDays = z.number().int().min(1).max(DAYS_MAX).nullable().default(null)
const zOrigin = z
  .string()
  .trim()
  .regex(/^https?:\/\/[a-z0-9.-]+(?::\d{1,5})?$/i, 'An origin such as https://shop.example.org, without a path')
  .transform((origin) => origin.toLowerCase())

/**
 * A token for a program. One with origins stands in pages that anybody can read, so it sends telemetry of
 * named services and nothing else.
 */
export const zMakeToken = z
  .strictObject({
    name: zTokenName,
    scope: z.enum(['intake', 'telemetry', 'evidence', 'maps', 'mail', 'read', 'write']),
    services: z.array(z.string().trim().min(1).max(200)).max(50).default([]),
    origins: z.array(zOrigin).max(20).default([]),
    /** After how many days it ends; null for never. */
    days: zDays,
  })
  .refine(({ services, scope }) => services.length === 0 || scope === 'telemetry' || scope === 'intake', {
    path: ['services'],
    message: 'Only telemetry is held to services',
  })
  .refine(({ origins, services, scope }) => origins.length === 0 || (scope === 'telemetry' && services.length > 0), {
    path: ['origins'],
    message: 'A token for pages is of scope telemetry, and names its services',
  })
/** A token to make, with nothing left open. */
export type MakeToken = z.output<typeof zMakeToken>
/** A token with one's own rights, or those of them that only read. */
export const zMakeOwnToken = z.strictObject({ name: zTokenName, scope: z.enum(['read', 'write']), days: zDays })
/** How long the old token goes on beside the new one. */
export const zRotateToken = z.strictObject({ overlapHours: z.number().int().min(0).max(720).default(24) })
/** A new token: the one time that it can be seen. */
export const zTokenMade = z.object({ token: z.string(), row: zToken })
export type TokenMade = z.infer<typeof zTokenMade>
const zTokens = z.object({ rows: z.array(zToken) })

/** What can be asked of tokens: a project's by its leads, one's own by everybody. */
export const tokenOperations = {
  listTokens: operation({
    method: 'get',
    path: '/projects/:project/tokens',
    summary: 'The access tokens of a project’s programs',
    may: 'tokens.manage',
    about: 'project',
    isOfNow: true,
    isPersonal: true,
    answer: zTokens,
  }),
  makeToken: operation({
    asksAgain: true,
    method: 'post',
    path: '/projects/:project/tokens',
    summary: 'Make a token for a program; it is shown once',
    may: 'tokens.manage',
    about: 'project',
    isPersonal: true,
    isSecret: true,
    body: zMakeToken,
    answer: zTokenMade,
    status: 201,
  }),
  rotateToken: operation({
    asksAgain: true,
    method: 'post',
    path: '/projects/:project/tokens/:tokenId/successor',
    summary: 'Make a token’s successor; the old one goes on for a while',
    may: 'tokens.manage',
    about: 'project',
    isPersonal: true,
    isSecret: true,
    body: zRotateToken,
    answer: zTokenMade,
    status: 201,
  }),
  revokeToken: operation({
    method: 'delete',
    path: '/projects/:project/tokens/:tokenId',
    summary: 'Take a token back at once',
    may: 'tokens.manage',
    about: 'project',
    isPersonal: true,
    answer: zEmpty,
  }),
  listOwnTokens: operation({
    method: 'get',
    path: '/me/tokens',
    summary: 'The asker’s own tokens',
    may: 'member-of-any',
    about: 'nothing',
    isOfNow: true,
    isPersonal: true,
    answer: zTokens,
  }),
  makeOwnToken: operation({
    asksAgain: true,
    method: 'post',
    path: '/me/tokens',
    summary: 'Make a token with one’s own rights; it is shown once',
    may: 'member-of-any',
    about: 'nothing',
    isPersonal: true,
    isSecret: true,
    body: zMakeOwnToken,
    answer: zTokenMade,
    status: 201,
  }),
  revokeOwnToken: operation({
    method: 'delete',
    path: '/me/tokens/:tokenId',
    summary: 'Take one of one’s own tokens back at once',
    may: 'member-of-any',
    about: 'nothing',
    isPersonal: true,
    answer: zEmpty,
  }),
}
