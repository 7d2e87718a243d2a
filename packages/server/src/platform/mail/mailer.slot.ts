import { slot, type ServiceContext } from '#platform/context'
import { makeSmtpMailer, noMailer } from './smtp-mailer.js'
import type { Mailer } from './mailer.js'

export const mailerSlot = slot<Mailer>('mailer', ({ config }) =>
  config.smtpUrl ? makeSmtpMailer({ url: config.smtpUrl, from: `Dystracer <${config.mailFrom}>` }) : noMailer,
)

/** Hands mail for people over. */
export function mailerOf(ctx: Pick<ServiceContext, 'use'>): Mailer {
  return ctx.use(mailerSlot)
}
