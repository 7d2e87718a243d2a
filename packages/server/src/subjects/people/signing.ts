import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto'
import type { ServiceContext } from '#platform/context'
import { rememberSecret } from './secrets.js'

type Signing = Pick<ServiceContext, 'db'>

/**
 * The kinds of private links: under which name the installation keeps their secret, and the form of their sign. A sign of mail is
 * hexadecimal and short, since it stands in addresses, whose case gets lost; both forms hold 96 bits or more.
 */
const LINKS = {
  feed: { secret: 'feed-signs', encoding: 'base64url', length: 32 },
  address: { secret: 'address-signs', encoding: 'base64url', length: 32 },
  badge: { secret: 'badge-signs', encoding: 'base64url', length: 32 },
  mail: { secret: 'mail-signs', encoding: 'hex', length: 24 },
} as const

/** Which kind of private link a sign is for; a sign of one kind opens nothing of another. */
export type LinkPurpose = keyof typeof LINKS

/** A sign that only this installation can make for a text (HMAC-SHA-256 of RFC 2104, cut to its kind's length). */
export function signOf(ctx: Signing, purpose: LinkPurpose, text: string): string {
  const { secret, encoding, length } = LINKS[purpose]
  const key = rememberSecret(ctx.db, secret, () => randomBytes(32).toString('base64url'))
  return createHmac('sha256', key).update(text).digest(encoding).slice(0, length)
}

/** Whether a sign that came from outside is the one for a text; takes as long for a near miss as for a wild guess. */
export function isSignOf(ctx: Signing, purpose: LinkPurpose, text: string, sign: string): boolean {
  const [given, expected] = [Buffer.from(sign), Buffer.from(signOf(ctx, purpose, text))]
  return given.length === expected.length && timingSafeEqual(given, expected)
}
