import { randomBytes } from 'node:crypto'
import type { Db } from '#platform/db/open'
import { rememberSecret, replaceSecret } from '#subjects/people/index'

const NAME = 'webhook'

/** A secret in the form that Standard Webhooks gives them. */
export function newWebhookSecret(): string {
  return `whsec_${randomBytes(24).toString('base64')}`
}

/** The secret with which events from outside are signed, made on first use. */
export function webhookSecret(db: Db): string {
  return rememberSecret(db, NAME, newWebhookSecret)
}

/** A new secret in its place; what is signed with the old one is refused from now on. */
export function renewWebhookSecret(db: Db): void {
  webhookSecret(db)
  replaceSecret(db, NAME, newWebhookSecret())
}
