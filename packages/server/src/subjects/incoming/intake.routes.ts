import { hash } from 'node:crypto'
import Router from '@koa/router'
import type { Context } from 'koa'
import { CloudEvent, HTTP } from 'cloudevents'
import type { z } from 'zod'
import { toOtlpLogs, zErrorReport } from '@dystracer/core/incoming/error-form'
import { buildFilesPaths } from '@dystracer/core/build-files/wire'
import { buildLogsPaths } from '@dystracer/core/build-logs/wire'
import { buildMachinesPaths, zAskForBuild, zAtBuild, zBuildEnd } from '@dystracer/core/build-machines/wire'
import { incomingPaths, reportPaths, type zTakenErrors } from '@dystracer/core/incoming/wire'
import { REPORT_FORMATS } from '@dystracer/core/builds/report-format'
import { Problem } from '@dystracer/core/basics/problem'
import { handleOutside } from '#platform/http/outside'
import { requireRoom } from '#platform/files/room'
import { readBody } from '#platform/http/read-body'
import { toProblem } from '#platform/http/problem-middleware'
import type { Who } from '@dystracer/core/people/who'
import { receiveMail } from './mail-and-form.commands.js'
import { takeDeliveries, takeHookMessage } from './deliveries.commands.js'
import { hookOf, requireProof, requireStandard } from './hooks.js'
import { answerPreflight, requireRepositoryOf, requireSender } from './senders.js'
import type { ServiceContext } from '#platform/context'
import { takeBuildFile } from '#subjects/build-files/index'
import { takeBuildLog } from '#subjects/build-logs/index'
import { beatOfBuild, endWantedBuild, takeWantedBuild } from '#subjects/build-machines/index'
import { receiveReport } from '#subjects/builds/index'
import { receiveSourceMap } from '#subjects/faults/index'
import { intakeWorker } from '#subjects/occurrences/index'
import { otlpMessages, type Signal } from '#subjects/telemetry/index'
import { identify } from '#subjects/people/index'
import { webhookSecret } from '#subjects/code/index'
import { projectsOfRepository, repositoryNamed } from '#subjects/records/index'
import type { RepositorySync } from '#subjects/sync/index'

/** Requests that the intake worker may have waiting; more are asked to come again. */
const WAITING_MAX = 256

export interface IntakeParts {
  sync: RepositorySync
}

export function makeIntakeRouter(ctx: ServiceContext, { sync }: IntakeParts): Router {
  const router = new Router()
  router.use('/receive', (_koa, next) => {
    requireRoom(ctx.config)
    return next()
  })
  router.post(incomingPaths.takeOtlpLogs.path, (koa) => takeOtlp(ctx, koa, 'logs'))
  router.post(incomingPaths.takeOtlpTraces.path, (koa) => takeOtlp(ctx, koa, 'traces'))
  for (const { path } of [incomingPaths.takeOtlpLogs, incomingPaths.takeOtlpTraces])
    router.options(path, (koa) => answerPreflight(ctx.db, koa, ctx.nowMs()))
  const bySignature = (koa: Context, body: Buffer | null) => signedOrSender(koa, body ?? Buffer.alloc(0), webhookSecret(ctx.db))
  router.options(incomingPaths.takeErrors.path, (koa) => answerPreflight(ctx.db, koa, ctx.nowMs()))
  handleOutside(
    router,
    incomingPaths.takeErrors,
    (koa) => requireSender(koa, 'telemetry'),
    ({ koa, body, who }) => takeErrors(ctx, koa, body, who),
  )
  handleOutside(router, incomingPaths.takeCloudEvents, bySignature, async ({ koa, body, who }) => {
    return { events: await takeDeliveries(ctx, { sync, who }, readCloudEvents(koa, body)) }
  })
  handleOutside(
    router,
    incomingPaths.takeHook,
    (koa, body) => {
      const hook = hookOf(ctx.db, hookIdOf(koa))
      requireProof(ctx.db, hook, { body: body ?? Buffer.alloc(0), header: (name) => koa.get(name) })
      return null
    },
    async ({ koa, body }) => {
      const message = parseJson(body)
      const id = koa.get('webhook-id').slice(0, 100) || hash('sha256', body)
      return { events: [await takeHookMessage(ctx, { sync }, hookOf(ctx.db, hookIdOf(koa)), { id, message })] }
    },
  )
  const evidence = (koa: Context) => requireSender(koa, 'evidence')
  for (const format of REPORT_FORMATS)
    handleOutside(router, reportPaths[format], evidence, ({ query, body, who }) => {
      const repository = repositoryNamed(ctx.db, query.repository)
      requireRepositoryOf(ctx.db, who, repository)
      return receiveReport(ctx, format, { ...query, repository, build: query.build ?? null }, body)
    })
  handleOutside(router, buildLogsPaths.takeBuildLog, evidence, ({ query, body, who }) => {
    const repository = repositoryNamed(ctx.db, query.repository)
    requireRepositoryOf(ctx.db, who, repository)
    return takeBuildLog(ctx, { ...query, repository }, body)
  })
  handleOutside(router, buildFilesPaths.takeBuildFile, evidence, ({ query, body, who }) => {
    const repository = repositoryNamed(ctx.db, query.repository)
    requireRepositoryOf(ctx.db, who, repository)
    return takeBuildFile(ctx, { ...query, repository }, body)
  })
  const mayTake = (who: Who | null) => {
    const project = who?.limits?.project ?? null
    return (repository: string) => project === null || projectsOfRepository(ctx.db, repository).includes(project)
  }
  handleOutside(router, buildMachinesPaths.takeWantedBuild, evidence, async ({ koa, body, who }) => {
    const listening = new AbortController()
    koa.res.on('close', () => listening.abort())
    const asked = zAskForBuild.parse(parseJson(body))
    return { wanted: await takeWantedBuild(ctx, asked, { mayTake: mayTake(who), signal: listening.signal }) }
  })
  handleOutside(router, buildMachinesPaths.beatOfBuild, evidence, ({ body, who }) =>
    beatOfBuild(ctx, zAtBuild.parse(parseJson(body)), mayTake(who)),
  )
  handleOutside(router, buildMachinesPaths.endWantedBuild, evidence, ({ body, who }) => {
    endWantedBuild(ctx, zBuildEnd.parse(parseJson(body)), mayTake(who))
    return {}
  })
  handleOutside(
    router,
    incomingPaths.takeSourceMap,
    (koa) => requireSender(koa, 'maps'),
    ({ query, body, who }) => {
      const repository = repositoryNamed(ctx.db, query.repository)
      requireRepositoryOf(ctx.db, who, repository)
      return receiveSourceMap(ctx, { ...query, repository, body })
    },
  )
  handleOutside(
    router,
    incomingPaths.takeMail,
    (koa) => requireSender(koa, 'mail'),
    async ({ body, who }) => ({ key: await receiveMail(ctx, body, who?.limits?.project ?? null) }),
  )
  return router
}

/** The hook that a path names: its last step. */
function hookIdOf(koa: Context): string {
  return koa.path.split('/').at(-1) ?? ''
}

/** Errors as plain JSON go the way of telemetry. Throws `invalid-input` with what is wrong, by field. */
async function takeErrors(ctx: ServiceContext, koa: Context, body: Buffer, who: Who | null): Promise<z.output<typeof zTakenErrors>> {
  requireIntakeRoom(ctx)
  if (!koa.is('application/json')) throw new Problem('unsupported-content', { detail: 'Send application/json.' })
  const report = zErrorReport.parse(parseJson(body))
  const output = await takeIntoVolume(ctx, 'logs', 'json', Buffer.from(JSON.stringify(toOtlpLogs(report, ctx.nowMs()))), who)
  if (output.kind === 'malformed') throw new Problem('malformed-body', { detail: output.why })
  return { taken: report.errors.length - output.refused, refused: output.refused, why: output.why }
}

function parseJson(body: Buffer): unknown {
  try {
    return JSON.parse(body.toString('utf8'))
  } catch (error) {
    throw new Problem('malformed-body', { detail: `Not JSON: ${error instanceof Error ? error.message : 'unreadable'}`, cause: error })
  }
}

/** Hands telemetry to the worker that keeps it; refused while too much waits already. */
function takeIntoVolume(ctx: ServiceContext, signal: Signal, encoding: 'json' | 'protobuf', body: Buffer, who: Who | null) {
  const limits = who?.limits
  const bytes = new Uint8Array(body)
  return intakeWorker(ctx).call(
    'take',
    { signal, encoding, body: bytes, receivedAtMs: ctx.nowMs(), project: limits?.project ?? null, services: limits?.services ?? [] },
    { transfer: [bytes.buffer] },
  )
}

function requireIntakeRoom(ctx: ServiceContext): void {
  if (intakeWorker(ctx).underWay >= WAITING_MAX)
    throw new Problem('too-many-requests', { detail: 'The intake is full; send again.', headers: { 'retry-after': '1' } })
}

/** OTLP answers in the request's own encoding, errors included (a Status message). */
async function takeOtlp(ctx: ServiceContext, koa: Context, signal: Signal): Promise<void> {
  const declared = signal === 'logs' ? incomingPaths.takeOtlpLogs : incomingPaths.takeOtlpTraces
  const type = (koa.get('content-type').split(';', 1)[0] ?? '').trim().toLowerCase()
  const encoding = type === 'application/x-protobuf' ? 'protobuf' : 'json'
  try {
    koa.state.who = identify(ctx, koa)
    requireSender(koa, 'telemetry')
    if (type !== 'application/json' && type !== 'application/x-protobuf')
      throw new Problem('unsupported-content', { detail: 'Send application/json or application/x-protobuf.' })
    requireIntakeRoom(ctx)
    requireRoom(ctx.config)
    const body = await readBody(koa.req, declared.takes.limitBytes)
    const output = await takeIntoVolume(ctx, signal, encoding, body, koa.state.who as Who)
    if (output.kind === 'malformed') throw new Problem('malformed-body', { detail: output.why })
    answerOtlp(
      koa,
      encoding,
      signal === 'logs' ? otlpMessages.logsResponse : otlpMessages.tracesResponse,
      output.refused === 0
        ? {}
        : {
            partialSuccess: { [signal === 'logs' ? 'rejectedLogRecords' : 'rejectedSpans']: output.refused, errorMessage: output.why },
          },
    )
  } catch (error) {
    const problem = toProblem(error)
    if (problem.status >= 500) ctx.log.error({ err: error }, 'intake failed')
    // Exporters drop what is answered 500 and send again what is answered 503 (OTLP/HTTP, Retryable Response Codes).
    koa.status = problem.status === 500 || problem.code === 'disk-full' ? 503 : problem.status
    if (koa.status === 503) koa.set('retry-after', '5')
    for (const [name, value] of Object.entries(problem.headers ?? {})) koa.set(name, value)
    answerOtlp(koa, encoding, otlpMessages.status, { code: GRPC_CODE[koa.status] ?? 2, message: problem.message })
  }
}

/** google.rpc codes by HTTP status, as OTLP's Status carries them. */
const GRPC_CODE: Record<number, number> = { 400: 3, 401: 16, 403: 7, 413: 8, 415: 3, 429: 8, 503: 14, 500: 13 }

function answerOtlp(koa: Context, encoding: 'json' | 'protobuf', type: (typeof otlpMessages)['status'], message: object): void {
  koa.type = encoding === 'json' ? 'application/json' : 'application/x-protobuf'
  koa.body = encoding === 'json' ? JSON.stringify(message) : Buffer.from(type.encode(type.fromObject(message)).finish())
}

/** A Standard Webhooks signature stands in for a token, and for no sender in particular. */
function signedOrSender(koa: Context, body: Buffer, secret: string): Who | null {
  if (!koa.get('webhook-signature')) return requireSender(koa, 'evidence')
  requireStandard(secret, { body, header: (name) => koa.get(name) })
  return null
}

/** The data of one or several CloudEvents: binary, structured or batched mode. */
function readCloudEvents(koa: Context, body: Buffer): unknown[] {
  try {
    const events = HTTP.toEvent<unknown>({ headers: koa.headers as Record<string, string>, body: body.toString('utf8') })
    return [events].flat().map((event) => new CloudEvent(event as Partial<CloudEvent<unknown>>).data)
  } catch (error) {
    throw new Problem('malformed-body', {
      detail: `Not a CloudEvent: ${error instanceof Error ? error.message : 'unreadable'}`,
      cause: error,
    })
  }
}
