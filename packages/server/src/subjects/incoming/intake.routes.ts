import Router from '@koa/router'
import type { Context } from 'koa'
import { Webhook, WebhookVerificationError } from 'standardwebhooks'
import { CloudEvent, HTTP } from 'cloudevents'
import { z } from 'zod'
import { Problem } from '@dystracer/core/basics/problem'
import { readBody } from '#platform/http/read-body'
import { toProblem } from '#platform/http/problem-middleware'
import type { Who } from '@dystracer/core/people/who'
import { receiveMail } from './mail-and-form.commands.js'
import { receiveCdEvent } from './events.commands.js'
import type { ServiceContext } from '#platform/context'
import { receiveJunit, receiveSarif } from '#subjects/builds/index'
import { receiveSourceMap } from '#subjects/faults/index'
import { intakeWorker, otlpMessages, type Signal } from '#subjects/occurrences/index'
import { identify } from '#subjects/people/index'
import type { RepositorySync } from '#subjects/sync/index'

const OTLP_LIMIT_BYTES = 4 << 20
const REPORT_LIMIT_BYTES = 16 << 20
const SOURCE_MAP_LIMIT_BYTES = 64 << 20
const EVENT_LIMIT_BYTES = 1 << 20
const MAIL_LIMIT_BYTES = 25 << 20
/** Requests that the intake worker may have waiting; more are asked to come again. */
const WAITING_MAX = 256

export interface IntakeParts {
  sync: RepositorySync
  webhookSecret: string
}

export function makeIntakeRouter(ctx: ServiceContext, { sync, webhookSecret }: IntakeParts): Router {
  const router = new Router()
  router.post('/otlp/v1/logs', (koa) => takeOtlp(ctx, koa, 'logs'))
  router.post('/otlp/v1/traces', (koa) => takeOtlp(ctx, koa, 'traces'))
  router.post('/receive/cloudevents', async (koa) => {
    const body = await readBody(koa.req, EVENT_LIMIT_BYTES)
    authoriseWebhook(koa, body, webhookSecret)
    for (const event of readCloudEvents(koa, body)) await receiveCdEvent(ctx, sync, event)
    koa.status = 202
    koa.body = {}
  })
  router.post('/receive/reports/junit', async (koa) => {
    requireIntake(koa)
    const query = zReportQuery.parse({ ...koa.query })
    const body = await readBody(koa.req, REPORT_LIMIT_BYTES)
    koa.body = { results: receiveJunit(ctx, { ...query, xml: body.toString('utf8') }) }
  })
  router.post('/receive/reports/sarif', async (koa) => {
    requireIntake(koa)
    const { repository, commit } = zReportQuery.parse({ ...koa.query })
    const body = await readBody(koa.req, REPORT_LIMIT_BYTES)
    koa.body = receiveSarif(ctx, { repository, commit, json: body.toString('utf8') })
  })
  router.post('/receive/sourcemaps', async (koa) => {
    requireIntake(koa)
    const query = zSourceMapQuery.parse({ ...koa.query })
    const body = await readBody(koa.req, SOURCE_MAP_LIMIT_BYTES)
    koa.body = await receiveSourceMap(ctx, { ...query, body })
  })
  router.post('/receive/mail', async (koa) => {
    requireIntake(koa)
    koa.body = { key: await receiveMail(ctx, await readBody(koa.req, MAIL_LIMIT_BYTES)) }
    koa.status = 202
  })
  return router
}

const zReportQuery = z.object({
  repository: z.string().max(100),
  commit: z.string().regex(/^[0-9a-f]{40,64}$/),
  build: z.coerce.number().int().positive().default(1),
})

const zSourceMapQuery = z.object({
  repository: z.string().min(1).max(100),
  release: z.string().min(1).max(100),
  /** The built file that the map is for, or the map's own name, or that of the artefact that holds it. */
  file: z.string().min(1).max(500),
})

function requireIntake(koa: Context): void {
  const who = koa.state.who as Who
  if (who.via !== 'token')
    throw new Problem('wrong-token', {
      detail: 'Send "Authorization: Bearer TOKEN" with a token of scope intake.',
      headers: { 'www-authenticate': 'Bearer' },
    })
  if (who.scope !== 'intake' && who.scope !== 'admin') throw new Problem('not-allowed', { detail: 'This token is not of scope intake.' })
}

/** OTLP answers in the request's own encoding, errors included (a Status message). */
async function takeOtlp(ctx: ServiceContext, koa: Context, signal: Signal): Promise<void> {
  const type = (koa.get('content-type').split(';', 1)[0] ?? '').trim().toLowerCase()
  const encoding = type === 'application/x-protobuf' ? 'protobuf' : 'json'
  try {
    koa.state.who = identify(ctx, koa)
    requireIntake(koa)
    if (type !== 'application/json' && type !== 'application/x-protobuf')
      throw new Problem('unsupported-content', { detail: 'Send application/json or application/x-protobuf.' })
    if (intakeWorker(ctx).underWay >= WAITING_MAX)
      throw new Problem('too-many-requests', { detail: 'The intake is full; send again.', headers: { 'retry-after': '1' } })
    const body = await readBody(koa.req, OTLP_LIMIT_BYTES)
    const bytes = new Uint8Array(body)
    const output = await intakeWorker(ctx).call('take', { signal, encoding, body: bytes, receivedAtMs: ctx.nowMs() }, { transfer: [bytes.buffer] })
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
    koa.status = problem.status
    for (const [name, value] of Object.entries(problem.headers ?? {})) koa.set(name, value)
    answerOtlp(koa, encoding, otlpMessages.status, { code: GRPC_CODE[problem.status] ?? 2, message: problem.message })
  }
}

/** google.rpc codes by HTTP status, as OTLP's Status carries them. */
const GRPC_CODE: Record<number, number> = { 400: 3, 401: 16, 403: 7, 413: 8, 415: 3, 429: 8, 503: 14, 500: 13 }

function answerOtlp(koa: Context, encoding: 'json' | 'protobuf', type: (typeof otlpMessages)['status'], message: object): void {
  koa.type = encoding === 'json' ? 'application/json' : 'application/x-protobuf'
  koa.body = encoding === 'json' ? JSON.stringify(message) : Buffer.from(type.encode(type.fromObject(message)).finish())
}

/** A Standard Webhooks signature stands in for a token. */
function authoriseWebhook(koa: Context, body: Buffer, secret: string): void {
  if (!koa.get('webhook-signature')) {
    requireIntake(koa)
    return
  }
  try {
    new Webhook(secret).verify(body.toString('utf8'), {
      'webhook-id': koa.get('webhook-id'),
      'webhook-timestamp': koa.get('webhook-timestamp'),
      'webhook-signature': koa.get('webhook-signature'),
    })
  } catch (error) {
    if (error instanceof WebhookVerificationError)
      throw new Problem('wrong-signature', { detail: 'The webhook signature does not match, or is older than five minutes.' })
    throw error
  }
}

/** The data of one or several CloudEvents: binary, structured or batched mode. */
function readCloudEvents(koa: Context, body: Buffer): unknown[] {
  try {
    const events = HTTP.toEvent<unknown>({ headers: koa.headers as Record<string, string>, body: body.toString('utf8') })
    return [events].flat().map((event) => new CloudEvent(event as Partial<CloudEvent<unknown>>).data)
  } catch (error) {
    throw new Problem('malformed-body', { detail: `Not a CloudEvent: ${error instanceof Error ? error.message : 'unreadable'}`, cause: error })
  }
}
