import { createTransport } from 'nodemailer'
import { OutsideError } from '#platform/outside-error'
import type { Mailer } from './mailer.js'

/** Mail by SMTP on loopback; `from` is the address that people see. */
export function makeSmtpMailer({ port, from }: { port: number; from: string }): Mailer {
  const transport = createTransport({ host: '127.0.0.1', port, secure: false, ignoreTLS: true, connectionTimeout: 5000 })
  return {
    send: async (mail) => {
      try {
        await transport.sendMail({ from, ...mail })
      } catch (error) {
        throw new OutsideError(`mail to ${mail.to} was not taken`, { cause: error })
      }
    },
  }
}

/** Where no mail server is set up: mail is dropped, since the same news stands in the application. */
export const noMailer: Mailer = { isNone: true, send: async () => {} }
