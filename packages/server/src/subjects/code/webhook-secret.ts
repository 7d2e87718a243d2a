import { randomBytes } from 'node:crypto'

/** A secret in the form that Standard Webhooks gives them. */
export function newWebhookSecret(): string {
  return `whsec_${randomBytes(24).toString('base64')}`
}
