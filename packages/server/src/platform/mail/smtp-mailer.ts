import { createTransport } from 'nodemailer'
import { MessageRefused, OutsideError } from '#platform/outside-error'
import type { Mailer } from './mailer.js'

const LOOPBACK = /^(?:127(?:\.\d{1,3}){3}|localhost|\[::1\])$/

/** A connection that nothing is sent over is let go after so long. */
const IDLE_MS = 500

/**
 * Mail by SMTP; `from` is the address that people see. `smtps:` speaks TLS from the first word, `smtp:` changes to it where the server can,
 * and must, unless it is on this machine. Name and secret stand in the address.
 */
export function makeSmtpMailer({ url, from }: { url: string; from: string }): Mailer {
  const isHere = LOOPBACK.test(new URL(url).hostname)
  const connect = () =>
    createTransport({
      url,
      pool: true,
      maxConnections: 1,
      connectionTimeout: 5000,
      ...(isHere ? { ignoreTLS: true } : { requireTLS: true }),
    })
  // A round of many mails goes over one connection, which is let go when the round is over.
  let open: ReturnType<typeof connect> | null = null
  let underWay = 0
  let closing: NodeJS.Timeout | undefined
  const letGo = () => {
    open?.close()
    open = null
  }
  return {
    send: async (mail) => {
      clearTimeout(closing)
      open ??= connect()
      underWay++
      try {
        await open.sendMail({ from, ...mail })
      } catch (error) {
        const { responseCode, response } = error as { responseCode?: number; response?: string }
        // An answer to a recipient or a message (RFC 5321): 4yz may change its mind, 5yz does not. Without one the server itself is away.
        if (responseCode !== undefined && responseCode >= 400)
          throw new MessageRefused(`the mail server does not take mail to ${mail.to}: ${response ?? responseCode}`, {
            isFinal: responseCode >= 500,
            cause: error,
          })
        throw new OutsideError(`mail to ${mail.to} was not taken`, { cause: error })
      } finally {
        // Letting go while others wait for the connection would lose their mail.
        if (--underWay === 0) {
          closing = setTimeout(letGo, IDLE_MS)
          closing.unref()
        }
      }
    },
  }
}

/** Where no mail server is set up: mail is dropped, since the same news stands in the application. */
export const noMailer: Mailer = { isNone: true, send: async () => {} }
