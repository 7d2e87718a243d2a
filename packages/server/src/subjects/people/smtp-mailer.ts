import { createTransport } from 'nodemailer'
import { MessageRefused, OutsideError } from '#platform/outside-error'
import type { Mailer } from './mailer.js'

/** Mail by SMTP on loopback; `from` is the address that people see. */
export function makeSmtpMailer({ port, from }: { port: number; from: string }): Mailer {
  const transport = createTransport({ host: '127.0.0.1', port, secure: false, ignoreTLS: true, connectionTimeout: 5000 })
  return {
    send: async (mail) => {
      try {
        await transport.sendMail({ from, ...mail })
      } catch (error) {
        const { responseCode, response } = error as { responseCode?: number; response?: string }
        // An answer to a recipient or a message (RFC 5321): 4yz may change its mind, 5yz does not. Without one the server itself is away.
        if (responseCode !== undefined && responseCode >= 400)
          throw new MessageRefused(`the mail server does not take mail to ${mail.to}: ${response ?? responseCode}`, {
            isFinal: responseCode >= 500,
            cause: error,
          })
        throw new OutsideError(`mail to ${mail.to} was not taken`, { cause: error })
      }
    },
  }
}

/** Where no mail server is set up: mail is dropped, since the same news stands in the application. */
export const noMailer: Mailer = { isNone: true, send: async () => {} }
