import { simpleParser } from 'mailparser'
import { SMTPServer } from 'smtp-server'

export interface Mail {
  id: number
  from: string
  to: string
  subject: string
  text: string
  atMs: number
}
const KEPT_MAX = 500

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

  close(): Promise<void> {
    return new Promise((resolve) => this.#server.close(() => resolve()))
  }
}
