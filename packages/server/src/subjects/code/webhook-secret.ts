import { randomBytes } from 'node:crypto'
import type { Db } from '#platform/db/open'
import { rememberSecret, replaceSecret } from '#subjects/people/index'

/** What the secret of the installation's own way in is kept as. */
const NAME = 'webhook'

/** A secret in the form that Standard Webhooks gives them. */
export function newWebhookSecret(): string {
  return `whsec_${randomBytes(24).toString('base64')}`
}

/** The secret with which events from outside are signed, made on first use; `name` is that of a way in of its own. */
export function webhookSecret(db: Db, name: string = NAME): string {
  return rememberSecret(db, name, newWebhookSecret)
}

/** A new secret in its place; what is signed with the old one is refused from now on. Gives the new one. */
export function renewWebhookSecret(db: Db, name: string = NAME): string {
  webhookSecret(db, name)
  replaceSecret(db, name, newWebhookSecret())
  return webhookSecret(db, name)
}
