import { intakeWorker } from '#subjects/occurrences/intake.client'
import { readFileSync } from 'node:fs'
import { createServer, type RequestListener, type Server } from 'node:http'
import { createServer as createTlsServer } from 'node:https'
import type { Config } from '#platform/config/config'
import type { AddressInfo } from 'node:net'
import { Problem } from '@dystracer/core/basics/problem'
import { makeSmtpListener } from '#subjects/incoming/smtp-listener'
import { makeApp } from './app.js'
import { RateLimit } from '#platform/http/rate-limit'
import type { OwnedContext } from './context.js'
import { followFaults } from '#subjects/faults/follow-faults'
import { repairMerges } from '#subjects/faults/merges.commands'
import { startKeepingReports } from '#subjects/audits/audits.commands'
import { startBisecting } from '#subjects/bisecting/bisecting.commands'
import { startLookingAtTrains } from '#subjects/trains/trains.commands'
import { startLettingOut } from '#subjects/releases/index'
import { startMerging } from '#subjects/merging/merge-when-met.commands'
import { startTellingHosts } from '#subjects/reviews/host-statuses.commands'
import { startPlacing } from '#subjects/incoming/deliveries.commands'
import { receiveMail } from '#subjects/incoming/mail-and-form.commands'
import { judgeWaitingItems } from '#subjects/ladder/move-ladders'
import { startMailing } from '#subjects/inbox/mail'
import { startBuildingPushes, startWatchingMachines } from '#subjects/build-machines/index'
import { removeOldFiles } from '#subjects/build-files/index'
import { removeOldLogs } from '#subjects/build-logs/index'
import { startSweepingBlobs } from '#subjects/talk/blobs'
import { warmGraphs } from '#subjects/code/index'
import { RepositorySync } from '#subjects/sync/repository-sync'
import type { ServiceContext } from '#platform/context'

export interface RunningServer {
  port: number
  sync: RepositorySync
  stop(): Promise<void>
}

/**
 * Begins to answer; resolves once the port is bound. Stopping answers what is under way, ends live streams and waits for background work.
 */
export async function startServer({ ctx, close }: OwnedContext): Promise<RunningServer> {
  const sync = new RepositorySync(ctx)
  const app = makeApp(ctx, { sync })
  app.on('error', (error: unknown) => ctx.log.debug({ err: error }, 'a connection broke off'))
  const server = serverOf(ctx.config, app.callback())
  // Longer than proxies and clients keep idle connections, so that it is they who close them and no request meets a closed one.
  server.keepAliveTimeout = KEEP_ALIVE_MS
  // Who asks first does not wait for a large history.
  await warmGraphs(ctx)
  await listen(server, ctx.config.port, ctx.config.host)
  followFaults(ctx)
  ctx.background.add(repairMerges(ctx), 'carrying out merges of faults')
  startPruning(ctx)
  sync.start()
  startMailing(ctx)
  startPlacing(ctx, sync)
  startMerging(ctx, sync)
  startKeepingReports(ctx)
  startLookingAtTrains(ctx)
  startLettingOut(ctx)
  startTellingHosts(ctx)
  startSweepingBlobs(ctx)
  startBuildingPushes(ctx)
  startWatchingMachines(ctx)
  startBisecting(ctx)
  ctx.jobs.every({ name: 'removing old build logs', everyMs: PRUNE_EVERY_MS, run: () => removeOldLogs(ctx) })
  ctx.jobs.every({ name: 'removing old files of builds', everyMs: PRUNE_EVERY_MS, run: () => removeOldFiles(ctx) })
  const { mailPort } = ctx.config
  const listener = mailPort === null ? null : listenForMail(ctx)
  if (mailPort !== null) await listener?.listen(mailPort, ctx.config.host)
  ctx.jobs.every({ name: 'judging silence', everyMs: ctx.config.judgeIntervalMs, run: () => judgeWaitingItems(ctx) })
  return {
    port: (server.address() as AddressInfo).port,
    sync,
    stop: async () => {
      await new Promise<void>((resolve) => {
        server.close(() => resolve())
        setTimeout(() => server.closeAllConnections(), 300)
      })
      await listener?.close()
      await ctx.jobs.stop()
      await sync.stop()
      await close()
    },
  }
}

const KEEP_ALIVE_MS = 75_000
const PRUNE_EVERY_MS = 3600_000
const PRUNE_BATCH = 5000
const DAY_MS = 86_400_000

/** Removes occurrences whose time is over, and traces that none has any more, once an hour, batch by batch. */
function startPruning(ctx: ServiceContext): void {
  const round = async (): Promise<void> => {
    const { keepDays, keepPerFault } = ctx.config
    let gone = 0
    do gone = await intakeWorker(ctx).call('prune', { beforeMs: ctx.nowMs() - keepDays * DAY_MS, perGroupMax: keepPerFault })
    while (gone >= PRUNE_BATCH)
    while (!(await intakeWorker(ctx).call('sweep', {})));
  }
  ctx.jobs.every({ name: 'removing old occurrences', everyMs: PRUNE_EVERY_MS, run: round })
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

/** Speaks TLS where certificate and key are given; a file that cannot be read stops the start with its name. */
function serverOf({ tls }: Pick<Config, 'tls'>, listener: RequestListener): Server {
  if (tls === null) return createServer(listener)
  return createTlsServer({ cert: readFileSync(tls.certPath), key: readFileSync(tls.keyPath), minVersion: 'TLSv1.2' }, listener)
}

function listen(server: Server, port: number, host: string): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, host, () => resolve())
  })
}
