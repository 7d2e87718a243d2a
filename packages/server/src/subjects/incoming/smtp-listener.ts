import { SMTPServer } from 'smtp-server'

const SIZE_MAX_BYTES = 30 << 20
const CLIENTS_MAX = 50

/**
 * Takes mail by SMTP and hands each message over before it answers, so that what was answered "taken" is kept. Meant to stand behind a mail
 * server that checks senders: it neither relays nor
 * believes more than an address. A message that `take` refuses is answered 554 with the reason, one that it cannot take now 451, so that
 * the sender tries again.
 */
export function makeSmtpListener(input: {
  take: (raw: Buffer, peer: string) => Promise<unknown>
  isRefusal: (error: unknown) => boolean
  onTrouble: (error: Error) => void
}): {
  listen(port: number, host: string): Promise<void>
  close(): Promise<void>
} {
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    size: SIZE_MAX_BYTES,
    maxClients: CLIENTS_MAX,
    socketTimeout: 60_000,
    closeTimeout: 500,
    onData: (stream, session, done) => {
      const chunks: Buffer[] = []
      let size = 0
      stream.on('data', (chunk: Buffer) => {
        size += chunk.length
        // The stream is read to its end either way; what is over the limit is not kept.
        if (size <= SIZE_MAX_BYTES) chunks.push(chunk)
      })
      stream.on('error', done)
      stream.on('end', () => {
        if (stream.sizeExceeded || size > SIZE_MAX_BYTES) return done(answer(552, 'The message is larger than 30 MB; nothing was kept'))
        input.take(Buffer.concat(chunks), session.remoteAddress).then(
          () => done(),
          (error: unknown) => {
            const why = error instanceof Error ? error.message : String(error)
            if (input.isRefusal(error)) return done(answer(554, why))
            input.onTrouble(error instanceof Error ? error : new Error(why))
            done(answer(451, 'It could not be taken now; try again later'))
          },
        )
      })
    },
  })
  server.on('error', input.onTrouble)
  return {
    listen: (port, host) =>
      new Promise((resolve, reject) => {
        server.server.once('error', reject)
        server.listen(port, host, () => resolve())
      }),
    close: () => new Promise((resolve) => server.close(() => resolve())),
  }
}

function answer(responseCode: number, message: string): Error {
  return Object.assign(new Error(message), { responseCode })
}
