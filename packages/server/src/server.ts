import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { Problem } from '@dystracer/core/basics/problem'
import { makeSmtpListener } from './adapters/smtp-listener.js'
import { makeApp } from './app.js'
import { RateLimit } from './middleware/rate-limit.js'
import type { OwnedContext } from './context.js'
import { rememberSecret } from './services/accounts.service.js'
import { followFaults } from './services/faults.service.js'
import { receiveMail } from './services/incoming.service.js'
import { judgeWaitingItems } from './services/ladder.service.js'
import { startMailing } from './services/mail.service.js'
import { RepositorySync } from './services/repository-sync.js'
import type { ServiceContext } from './services/service-context.js'
import { newWebhookSecret } from './services/webhook-secret.js'

export interface RunningServer {
  port: number
  sync: RepositorySync
  stop(): Promise<void>
}

/** Begins to answer; resolves once the port is bound. Stopping answers what is under way, ends live streams and waits for background work. */
export async function startServer({ ctx, close }: OwnedContext): Promise<RunningServer> {
  const sync = new RepositorySync(ctx)
  const app = makeApp(ctx, { sync, webhookSecret: rememberSecret(ctx.db, 'webhook', newWebhookSecret) })
  app.on('error', (error: unknown) => ctx.log.debug({ err: error }, 'a connection broke off'))
  const server = createServer(app.callback())
  await listen(server, ctx.config.port, ctx.config.host)
  followFaults(ctx)
  sync.start()
  const stopMailing = startMailing(ctx)
  const { mailPort } = ctx.config
  const listener = mailPort === null ? null : listenForMail(ctx)
  if (mailPort !== null) await listener?.listen(mailPort, ctx.config.host)
  const judge = setInterval(() => judgeWaitingItems(ctx), ctx.config.judgeIntervalMs)
  return {
    port: (server.address() as AddressInfo).port,
    sync,
    stop: async () => {
      clearInterval(judge)
      await new Promise<void>((resolve) => {
        server.close(() => resolve())
        setTimeout(() => server.closeAllConnections(), 300)
      })
      await listener?.close()
      await stopMailing()
      await sync.stop()
      await close()
    },
  }
}

function listenForMail(ctx: ServiceContext): ReturnType<typeof makeSmtpListener> {
  const byPeer = new RateLimit({ burst: 200, perMinute: 120 })
  return makeSmtpListener({
    take: async (raw, peer) => {
      byPeer.take(peer, ctx.nowMs())
      return receiveMail(ctx, raw)
    },
    // Who sends too much is asked to come again later.
    isRefusal: (error) => error instanceof Problem && error.code !== 'too-many-requests',
    onTrouble: (error) => ctx.log.warn({ err: error }, 'a mail could not be taken'),
  })
}

function listen(server: Server, port: number, host: string): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, host, () => resolve())
  })
}
