export interface OutgoingMail {
  to: string
  subject: string
  text: string
  html?: string
  messageId?: string
  /** The first message of the thread, so that mail programs keep an item's messages together. */
  inReplyTo?: string
  references?: string
  replyTo?: string
  headers?: Record<string, string>
}
export interface Mailer {
  /** Whether it hands nothing over: what people need must then be shown. */
  readonly isNone?: boolean
  send(mail: OutgoingMail): Promise<void>
}
