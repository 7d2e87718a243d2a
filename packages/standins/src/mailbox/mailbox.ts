import { simpleParser } from 'mailparser'
import { createTransport } from 'nodemailer'
import { SMTPServer } from 'smtp-server'
import { RequestError } from '#wire/json-server'

export interface Mail {
  id: number
  from: string
  to: string
  subject: string
  text: string
  /** As the sender wrote it; empty where there is only plain text. */
  html: string
  replyTo: string
  messageId: string
  /** The first message of its thread. */
  threadId: string
  atMs: number
}
const KEPT_MAX = 500

/** The name of this mail server, which the demo trusts. */
const MAIL_HOST = 'outside.dystracer.example'

/** Takes any mail by SMTP on loopback and keeps the newest 500 to be read. */
export class Mailbox {
  readonly mails: Mail[] = []
  readonly #server: SMTPServer
  #nextId = 1

  constructor() {
    this.#server = new SMTPServer({
      authOptional: true,
      disabledCommands: ['STARTTLS'],
      size: 10 << 20,
      onData: (stream, _session, done) => {
        simpleParser(stream).then((mail) => {
          const to = Array.isArray(mail.to) ? mail.to.map((entry) => entry.text).join(', ') : (mail.to?.text ?? '')
          this.mails.unshift({
            id: this.#nextId++,
            from: mail.from?.text ?? '',
            to,
            subject: mail.subject ?? '',
            text: mail.text ?? '',
            html: mail.html || '',
            replyTo: mail.replyTo?.value[0]?.address ?? mail.from?.value[0]?.address ?? '',
            messageId: mail.messageId ?? '',
            threadId: [mail.references ?? []].flat()[0] ?? mail.messageId ?? '',
            atMs: Date.now(),
          })
          this.mails.length = Math.min(this.mails.length, KEPT_MAX)
          done()
        }, done)
      },
    })
    this.#server.on('error', (error) => console.error(`mailbox: ${error.message}`))
  }

  listen(port: number): Promise<void> {
    return new Promise((resolve) => this.#server.listen(port, '127.0.0.1', () => resolve()))
  }

  /**
   * Sends an answer to a mail as a mail program does: from its recipient, to its reply address, in its thread, with the mail quoted below.
   */
  async answer(id: number, text: string, port: number): Promise<void> {
    const mail = this.mails.find((known) => known.id === id)
    if (!mail) throw new RequestError(404, 'this mail is not here any more')
    const quoted = mail.text
      .split('\n')
      .map((line) => `> ${line}`)
      .join('\n')
    const transport = createTransport({ host: '127.0.0.1', port, secure: false, ignoreTLS: true, connectionTimeout: 5000 })
    await transport.sendMail({
      from: mail.to,
      to: mail.replyTo,
      subject: `Re: ${mail.subject}`,
      text: `${text}\n\nOn ${new Date(mail.atMs).toUTCString()}, Dystracer wrote:\n${quoted}`,
      inReplyTo: mail.messageId,
      references: [mail.threadId, mail.messageId],
      // As the mail server of whoever answers does when it hands a mail on: it knows its own people.
      headers: { 'Authentication-Results': `${MAIL_HOST}; dmarc=pass header.from=${mail.to.replace(/.*@|>.*$/g, '')}` },
    })
  }

  close(): Promise<void> {
    return new Promise((resolve) => this.#server.close(() => resolve()))
  }
}
