import { hash, createHmac, timingSafeEqual } from 'node:crypto'
import type { z } from 'zod'
import { zHookProof, zHookReadings } from '@dystracer/core/incoming/hook-reading'
import { Problem } from '@dystracer/core/basics/problem'
import { Webhook, WebhookVerificationError } from 'standardwebhooks'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { renewWebhookSecret, webhookSecret } from '#subjects/code/index'
import { GET_HOOK, type HookRow } from './hooks.queries.js'

/** A way in for one program, as it is set up. */
export interface Hook {
  hookId: string
  project: string
  name: string
  proof: z.output<typeof zHookProof>
  readings: z.output<typeof zHookReadings>
}

const SENDER = 'hook:'

/** Whom the list of deliveries names for a hook. */
export const senderOf = (hookId: string): string => `${SENDER}${hookId}`

/** The hook that a sender in the list of deliveries is; null for any other. */
export function hookOfSender(sender: string): string | null {
  return sender.startsWith(SENDER) ? sender.slice(SENDER.length) : null
}

/** A hook by its id. Throws `not-found`, also for one of another project. */
export function hookOf(db: Db, hookId: string, project?: string): Hook {
  const row = sql(db, GET_HOOK).get<HookRow>({ hookId })
  if (!row || (project !== undefined && row.project !== project)) throw new Problem('not-found', { detail: `There is no hook ${hookId}.` })
  return toHook(row)
}

export function toHook({ proof, readings, ...row }: HookRow): Hook {
  return { ...row, proof: zHookProof.parse(JSON.parse(proof)), readings: zHookReadings.parse(JSON.parse(readings)) }
}

/** The secret of a hook, made on first use. */
export function secretOf(db: Db, hookId: string): string {
  return webhookSecret(db, `hook/${hookId}`)
}

/** A new secret in its place. */
export function renewSecretOf(db: Db, hookId: string): string {
  return renewWebhookSecret(db, `hook/${hookId}`)
}

/** A message as it came over HTTP. */
interface Message {
  body: Buffer
  header: (name: string) => string
}

/**
 * Whether a message is of the program that a hook is for, by what it shows: a signature of Standard Webhooks, the keyed hash of its body
 * (HMAC with SHA-256 by the secret as it is shown, in hexadecimal digits or base64, `sha256=` before it or not), or the secret itself.
 * Throws `wrong-signature` with what was looked for.
 */
export function requireProof(db: Db, { hookId, proof }: Hook, message: Message): void {
  const secret = secretOf(db, hookId)
  if (proof.kind === 'standard-webhooks') {
    requireStandard(secret, message)
    return
  }
  const header = proof.header || DEFAULT_HEADER[proof.kind]
  const shown = message.header(header).trim()
  const wrong = (why: string) => new Problem('wrong-signature', { detail: `${why} Nothing was stored.` })
  if (shown === '') throw wrong(`The header ${header} is not there, by which messages of this hook are proven.`)
  if (proof.kind === 'secret-in-header') {
    if (!isSame(shown.replace(/^Bearer\s+/i, ''), secret)) throw wrong(`The header ${header} does not hold the secret of this hook.`)
    return
  }
  const mac = createHmac('sha256', secret).update(message.body).digest()
  const told = shown.replace(/^sha256=/i, '')
  if (!isSame(told.toLowerCase(), mac.toString('hex')) && !isSame(told, mac.toString('base64')))
    throw wrong(`The header ${header} is not the HMAC-SHA256 of the body by the secret of this hook.`)
}

const DEFAULT_HEADER = { 'hmac-sha256': 'X-Signature-256', 'secret-in-header': 'X-Secret' } as const

/** Refuses a message that is not signed with a secret as Standard Webhooks say. Throws `wrong-signature`. */
export function requireStandard(secret: string, { body, header }: Message): void {
  try {
    const names = ['webhook-id', 'webhook-timestamp', 'webhook-signature']
    new Webhook(secret).verify(body.toString('utf8'), Object.fromEntries(names.map((name) => [name, header(name)])))
  } catch (error) {
    if (error instanceof WebhookVerificationError)
      throw new Problem('wrong-signature', {
        detail: 'The webhook signature does not match, or is older than five minutes. Nothing was stored.',
      })
    throw error
  }
}

/** Compares in a time that tells nothing of how much is right. */
function isSame(a: string, b: string): boolean {
  return timingSafeEqual(hash('sha256', a, 'buffer'), hash('sha256', b, 'buffer'))
}
